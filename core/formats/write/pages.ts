import { markup } from '../../pages'
import { CannotList, standingOf, tellDates, type Outgoing, type Written } from './outgoing'

/** A page that sends its visitors on, for hosts that run nothing (HTML Living Standard §4.2.5.3; RFC 6596). */
const pageTo = (destination: string, title: string): string =>
  markup`<!DOCTYPE html>
<html lang="en">
<meta charset="utf-8">
<title>${title || destination}</title>
<meta http-equiv="refresh" content="0; url=${destination}">
<link rel="canonical" href="${destination}">
<meta name="robots" content="noindex">
<p><a href="${destination}">${destination}</a></p>
</html>
`.text

/** A folder of pages that send on, one for each link, to be put at the top of any web host. */
export function writePages(outgoing: Outgoing): Written {
  const { domain, links, rules } = outgoing
  const cannot = new CannotList()
  tellDates(outgoing, cannot)
  for (const { pattern } of rules) cannot.add('rules', 'A rule is no page.', pattern)
  cannot.add('status', 'A page answers 200 and then redirects: no status distinguishes permanent from temporary.')
  cannot.add('query', 'A visitor’s query does not go along.')
  if (!domain.capitalsMatter) cannot.add('capitals', 'Capitals matter on most hosts: another spelling is not found.')
  const files: Written['files'] = []
  const taken = new Set<string>()
  for (const link of links) {
    const standing = standingOf(outgoing, link)
    if (standing.kind === 'page') {
      cannot.add('gone', 'A link that leads nowhere is not found (404) instead of what it is here.', link.slug)
      continue
    }
    // A file of that name where it has an ending, else a folder with its index.
    const name = /\.html?$/i.test(link.slug) ? link.slug : `${link.slug.replace(/\/$/, '')}/index.html`
    if (taken.has(name.toLowerCase())) {
      cannot.add('same-file', 'Two addresses would be one file; the first is kept.', link.slug)
      continue
    }
    taken.add(name.toLowerCase())
    files.push({ name, text: pageTo(standing.location, link.title) })
  }
  if (outgoing.whole && domain.rootDestination)
    files.push({ name: 'index.html', text: pageTo(domain.rootDestination, domain.host) })
  if (outgoing.whole && domain.notFoundDestination)
    files.push({ name: '404.html', text: pageTo(domain.notFoundDestination, domain.host) })
  return {
    files,
    cannot: cannot.all,
    steps: [
      `Unpack it at the top of the host that serves ${domain.host}.`,
      'Have the host serve index.html for a folder, which most do by themselves.',
      ...(links[0] ? [`See whether it sends on: open https://${domain.host}/${links[0].slug}`] : []),
    ],
  }
}

/** Bookmarks of the short addresses, as browsers read them (the de facto bookmark file). */
export function writeBookmarks({ domain, links }: Outgoing): Written {
  const lines = links
    .filter(({ standing }) => standing === 'live')
    .map(({ slug, title }) => {
      const address = `${domain.host}/${slug}`
      return markup`<DT><A HREF="https://${address}">${title || address}</A>\n`
    })
  const { text } = markup`<!DOCTYPE NETSCAPE-Bookmark-file-1>
<META HTTP-EQUIV="Content-Type" CONTENT="text/html; charset=UTF-8">
<TITLE>${domain.host}</TITLE>
<H1>${domain.host}</H1>
<DL><p>
${lines}</DL><p>
`
  const cannot = new CannotList()
  cannot.add('only', 'Bookmarks hold short addresses and titles: nothing of where they lead.')
  return { files: [{ name: `${domain.host}.html`, text }], cannot: cannot.all, steps: [] }
}
