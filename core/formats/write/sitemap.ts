import { toWire } from '../../address'
import { markup } from '../../pages'
import { CannotList, standingOf, type Outgoing, type Written } from './outgoing'

/** So many addresses a file may hold (sitemaps.org protocol, “Using Sitemap index files”). */
const MAX_ADDRESSES = 50_000

/** The short addresses that lead somewhere, as a sitemap (sitemaps.org protocol): to have them asked by others. */
export function writeSitemap(outgoing: Outgoing): Written {
  const { domain, links, rules } = outgoing
  const cannot = new CannotList()
  cannot.add('only', 'A sitemap holds short addresses: nothing of where they lead, or what they are called.')
  for (const { pattern } of rules) cannot.add('rules', 'A rule is no address.', pattern)
  const addresses: string[] = []
  for (const link of links) {
    if (link.unlisted) continue
    if (standingOf(outgoing, link).kind === 'page')
      cannot.add('gone', 'A link that leads nowhere is left out.', link.slug)
    else addresses.push(`https://${domain.host}/${toWire(link.slug)}`)
  }
  if (links.some(({ unlisted }) => unlisted)) cannot.add('unlisted', 'Unlisted links are left out.')
  const count = Math.max(1, Math.ceil(addresses.length / MAX_ADDRESSES))
  const files = Array.from({ length: count }, (_, part) => ({
    name: count === 1 ? 'sitemap.xml' : `sitemap-${part + 1}.xml`,
    text:
      '<?xml version="1.0" encoding="UTF-8"?>\n<urlset xmlns="http://www.sitemaps.org/schemas/sitemap/0.9">\n' +
      addresses
        .slice(part * MAX_ADDRESSES, (part + 1) * MAX_ADDRESSES)
        .map((address) => markup`<url><loc>${address}</loc></url>\n`.text)
        .join('') +
      '</urlset>\n',
  }))
  return { files, cannot: cannot.all, steps: [] }
}
