import { Parser } from 'htmlparser2'
import type { Format, Reading, SourceFile } from '../format'
import { FORMAT_NAMES } from '../kinds'
import { ReadingMaker } from '../reading'

/** A sitemap’s pages (sitemaps.org protocol), each a destination without a short address yet. */
function read(files: readonly SourceFile[]): Reading {
  const made = new ReadingMaker('a sitemap')
  for (const { name, text } of files) {
    let held: string | undefined
    let within: string | undefined
    let line = 1
    let counted = 0
    const parser = new Parser(
      {
        onopentag(tag) {
          if (tag === 'url' || tag === 'sitemap') within = tag
          if (tag === 'loc') held = ''
        },
        ontext(piece) {
          if (held !== undefined && held.length < 8100) held += piece
        },
        onclosetag(tag) {
          if (tag !== 'loc' || held === undefined) return
          for (
            let at = text.indexOf('\n', counted);
            at !== -1 && at < parser.startIndex;
            at = text.indexOf('\n', at + 1)
          )
            line++
          counted = parser.startIndex
          const place = { file: name, line, column: 1 }
          made.reading.lines++
          if (within === 'sitemap')
            made.refuse(
              place,
              'further-file',
              held.trim(),
              'It names a further file, which is not read from here.',
              'Drop that file as well.',
            )
          else made.link({ ...place, host: null, slug: null, destination: held.trim() })
          held = undefined
        },
      },
      { xmlMode: true, decodeEntities: true },
    )
    parser.end(text)
  }
  return made.reading
}

export const sitemap: Format = {
  id: 'sitemap',
  name: FORMAT_NAMES.sitemap,
  source: 'sitemaps.org protocol.',
  endings: ['xml'],
  resembles: ({ text }) => (/<(?:urlset|sitemapindex)[\s>]/.test(text.slice(0, 2000)) ? 1 : 0),
  read,
}
