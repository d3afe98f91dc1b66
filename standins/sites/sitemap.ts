import { gzipSync } from 'node:zlib'
import type { Reply, SitePages, Visit } from './behaviour'

/** How a site tells of its pages (sitemaps.org protocol): not at all, in one file, or by an index of packed ones. */
export type SitemapKind = 'none' | 'plain' | 'index'

const escape = (text: string) => text.replace(/[&<>'"]/g, (character) => `&#${character.charCodeAt(0)};`)
const HEAD = '<?xml version="1.0" encoding="UTF-8"?>\n'
const SPACE = 'xmlns="http://www.sitemaps.org/schemas/sitemap/0.9"'
const PER_FILE = 500

/** robots.txt and sitemaps; `undefined` for every other address. */
export function sitemapAnswer(visit: Visit, site: SitePages, kind: SitemapKind): Reply | undefined {
  const origin = `${visit.secure ? 'https' : 'http'}://${site.host}`
  const file = kind === 'index' ? '/sitemap-index.xml' : '/sitemap.xml'
  if (visit.path === '/robots.txt')
    return {
      status: 200,
      headers: { 'content-type': 'text/plain' },
      body: `User-agent: *\nDisallow: /private/\n${kind === 'none' ? '' : `Sitemap: ${origin}${file}\n`}`,
    }
  if (kind === 'none') return undefined
  const paths = [...site.pages.keys()]
  const list = (element: string, item: string, addresses: readonly string[]) =>
    [
      `${HEAD}<${element} ${SPACE}>`,
      ...addresses.map((address) => `<${item}><loc>${escape(address)}</loc></${item}>`),
      `</${element}>\n`,
    ].join('\n')
  const urls = (some: readonly string[]) =>
    list(
      'urlset',
      'url',
      some.map((path) => origin + path),
    )
  const xml = { 'content-type': 'application/xml' }
  if (kind === 'plain' && visit.path === file) return { status: 200, headers: xml, body: urls(paths) }
  if (kind !== 'index') return undefined
  const files = Math.max(1, Math.ceil(paths.length / PER_FILE))
  if (visit.path === file)
    return {
      status: 200,
      headers: xml,
      body: list(
        'sitemapindex',
        'sitemap',
        Array.from({ length: files }, (_, index) => `${origin}/sitemap-${index + 1}.xml.gz`),
      ),
    }
  const number = Number(/^\/sitemap-(\d+)\.xml\.gz$/.exec(visit.path)?.[1] ?? 0)
  if (number < 1 || number > files) return undefined
  const some = paths.slice((number - 1) * PER_FILE, number * PER_FILE)
  return { status: 200, headers: { 'content-type': 'application/gzip' }, body: gzipSync(urls(some)) }
}
