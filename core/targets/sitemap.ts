import { Parser } from 'htmlparser2'

/** What a sitemap file holds: pages, or further files. */
export interface Sitemap {
  pages: string[]
  files: string[]
}

/** A sitemap holds at most so many addresses (sitemaps.org protocol, “Sitemap file requirements”). */
const MAX_ADDRESSES = 50_000
const MAX_ADDRESS = 2048

/**
 * Reads a sitemap: `urlset`, `sitemapindex` (sitemaps.org protocol), a plain list of addresses, or a feed’s links.
 * Addresses that are none, and those of other sites than the file’s own, are left out, as the protocol asks.
 */
export function readSitemap(text: string, at: string): Sitemap {
  const map: Sitemap = { pages: [], files: [] }
  const { hostname } = new URL(at)
  const bare = (host: string) => host.replace(/^www\./, '')
  const add = (to: string[], address: string) => {
    if (to.length >= MAX_ADDRESSES || address.length > MAX_ADDRESS) return
    try {
      const url = new URL(address.trim())
      if (/^https?:$/.test(url.protocol) && bare(url.hostname) === bare(hostname)) to.push(url.href)
    } catch {
      // Not an address.
    }
  }
  if (!/^\ufeff?\s*</.test(text.slice(0, 200))) {
    for (const line of text.split(/\r?\n/, MAX_ADDRESSES)) if (/^https?:\/\//i.test(line.trim())) add(map.pages, line)
    return map
  }
  let inside: 'url' | 'sitemap' | 'item' | undefined
  let place: string | undefined
  let held = ''
  const parser = new Parser(
    {
      onopentag(name, attributes) {
        const local = name.split(':').at(-1)!.toLowerCase()
        if (local === 'url' || local === 'sitemap') inside = local
        else if (local === 'item' || local === 'entry') inside = 'item'
        // Pictures and translations of a page have addresses of their own, in other namespaces.
        place = name.includes(':') ? undefined : local
        held = ''
        if (inside === 'item' && local === 'link' && attributes.href) add(map.pages, attributes.href)
      },
      ontext(piece) {
        if (held.length <= MAX_ADDRESS) held += piece
      },
      onclosetag(name) {
        const local = name.split(':').at(-1)!.toLowerCase()
        if (place === 'loc' && inside === 'url') add(map.pages, held)
        else if (place === 'loc' && inside === 'sitemap') add(map.files, held)
        else if (place === 'link' && inside === 'item' && held.trim()) add(map.pages, held)
        if (local === 'url' || local === 'sitemap' || local === 'item' || local === 'entry') inside = undefined
        place = undefined
        held = ''
      },
    },
    { xmlMode: true, decodeEntities: true },
  )
  parser.write(text)
  parser.end()
  return map
}
