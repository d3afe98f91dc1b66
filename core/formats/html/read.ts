import { addressesIn } from '../../address'
import type { Format, Reading, SourceFile } from '../format'
import { FORMAT_NAMES } from '../kinds'
import { countLines, ReadingMaker } from '../reading'
import { readPageFacts, type PageFacts } from './page'

/** Pages of a folder that send their visitors on: by `meta refresh`, or by naming another page as the canonical one. */
function readPages(files: readonly SourceFile[]): Reading {
  const made = new ReadingMaker('pages that send their visitors on')
  for (const { name, text } of files) {
    made.reading.lines += countLines(text)
    if (!/\.html?$/i.test(name)) {
      made.refuse(
        { file: name, line: 1, column: 1 },
        'not-a-page',
        name,
        'It is no page; nothing of it is carried over.',
      )
      continue
    }
    const facts = readPageFacts(text)
    const to = facts.refresh ?? facts.canonical
    const slug = name.replace(/^\.?\//, '').replace(/(?:^|\/)index\.html?$/i, '')
    const place = { file: name, line: to?.line ?? 1, column: 1 }
    const destination = to && absolute(to.url, facts)
    if (!destination) {
      made.refuse(place, 'no-destination', name, to ? `“${to.url}” is no whole address.` : 'It sends nobody on.')
      continue
    }
    if (!facts.refresh)
      made.remark(
        place,
        'The page names another as the canonical one and showed something itself; here it leads there.',
      )
    made.link({ ...place, host: null, slug, destination, ...(facts.title && { title: facts.title }) })
  }
  return made.reading
}

function absolute(url: string, { base }: PageFacts): string | undefined {
  if (/^[a-z][a-z0-9+.-]*:/i.test(url)) return url
  try {
    return base === undefined ? undefined : new URL(url, base).href
  } catch {
    return undefined
  }
}

/** Bookmarks as browsers write them (the Netscape bookmark file, de facto), or a page full of links. */
function readAnchors(files: readonly SourceFile[], readAs: string): Reading {
  const made = new ReadingMaker(readAs)
  for (const { name, text } of files) {
    made.reading.lines += countLines(text)
    const facts = readPageFacts(text)
    const seen = new Set<string>()
    for (const { href, text: title, line, folders } of facts.anchors) {
      const place = { file: name, line, column: 1 }
      const destination = absolute(href, facts)
      if (!destination || !/^https?:/i.test(destination)) {
        if (!/^(?:#|javascript:|mailto:|tel:|place:|data:)/i.test(href))
          made.refuse(
            place,
            'not-whole',
            href,
            `“${href.slice(0, 80)}” is no whole address.`,
            'Give the page with a <base>, or whole addresses.',
          )
        continue
      }
      if (seen.has(destination)) continue
      seen.add(destination)
      made.link({
        ...place,
        host: null,
        slug: null,
        destination,
        ...(title && { title }),
        ...(folders.length > 0 && { tags: [folders.at(-1)!.slice(0, 60)] }),
      })
    }
  }
  return made.reading
}

/** A text with addresses in it. */
function readText(files: readonly SourceFile[]): Reading {
  const made = new ReadingMaker('a text with addresses in it')
  for (const { name, text } of files) {
    made.reading.lines += countLines(text)
    const seen = new Set<string>()
    let line = 1
    let lineStart = 0
    let nextLine = text.indexOf('\n')
    for (const { start, address } of addressesIn(text)) {
      for (; nextLine !== -1 && nextLine < start; nextLine = text.indexOf('\n', lineStart)) {
        line++
        lineStart = nextLine + 1
      }
      if (seen.has(address)) continue
      seen.add(address)
      made.link({
        file: name,
        line,
        column: start - lineStart + 1,
        host: null,
        slug: null,
        destination: address,
      })
    }
  }
  return made.reading
}

const isBookmarks = (text: string) => /^\s*<!DOCTYPE NETSCAPE-Bookmark-file-1>/i.test(text)
const isPage = (text: string) => /^\s*(?:<!DOCTYPE html|<html|<head|<meta|<\?xml[^>]*\?>\s*<!DOCTYPE html)/i.test(text)

export const pages: Format = {
  id: 'pages',
  name: FORMAT_NAMES.pages,
  source: 'HTML Living Standard §4.2.5.3 (refresh); RFC 6596 (canonical).',
  endings: ['html', 'htm'],
  resembles: ({ text }) =>
    isBookmarks(text)
      ? 0
      : /http-equiv\s*=\s*["']?refresh/i.test(text.slice(0, 20_000))
        ? 0.96
        : /<link[^>]+rel\s*=\s*["']?canonical/i.test(text.slice(0, 20_000))
          ? 0.6
          : 0,
  read: readPages,
}

export const bookmarks: Format = {
  id: 'bookmarks',
  name: FORMAT_NAMES.bookmarks,
  source: 'The bookmark file of browsers (NETSCAPE-Bookmark-file-1, de facto).',
  endings: ['html'],
  resembles: ({ text }) => (isBookmarks(text) ? 1 : 0),
  read: (files) => readAnchors(files, 'bookmarks of a browser'),
}

export const anchors: Format = {
  id: 'anchors',
  name: FORMAT_NAMES.anchors,
  source: 'HTML Living Standard §4.6.',
  endings: ['html', 'htm'],
  resembles: ({ text }) => (isPage(text) || /<a\s[^>]*href/i.test(text.slice(0, 20_000)) ? 0.55 : 0),
  read: (files) => readAnchors(files, 'the links of a page'),
}

export const text: Format = {
  id: 'text',
  name: FORMAT_NAMES.text,
  source: 'RFC 3986 appendix C.',
  endings: ['txt', 'md'],
  resembles: (file) => (/https?:\/\/\S/.test(file.text) ? 0.3 : 0),
  read: readText,
}
