import {
  bestPages,
  indexPages,
  OFFERED_FROM,
  REMEDY_KINDS,
  type FoundRemedies,
  type FoundRemedy,
  type PageIndex,
} from '../../../core/targets'
import type { Asker } from '../../targets/asker'
import { sitePages } from './sitemap-pages'
import type { Tried } from './try-out'

/** So many of the best by their addresses are tried, to compare their titles as well. */
const MAX_PAGES = 6
/** Pages are compared with titles only where their addresses are near enough to it. */
const MIN_SCORE = 0.2

/** A page that is gone, as far as it is known. */
export interface LostPage {
  url: string
  title: string
  /** Links of the page that is shown instead. */
  links: readonly string[]
}

/**
 * The pages of a site that most likely took the place of one that is gone, each tried: from its sitemap, and from the
 * links of the page that is shown instead.
 */
export async function pagesInstead(
  asker: Asker,
  lost: LostPage,
  attempt: (to: string) => Promise<Tried>,
): Promise<Pick<FoundRemedies, 'offers' | 'failed'>> {
  const { origin } = new URL(lost.url)
  const offers: FoundRemedy[] = []
  const failed: FoundRemedies['failed'] = []
  const { pages, from } = await sitePages(asker, origin).catch(() => ({ pages: [], from: '' }))
  for (const [kind, addresses, why] of [
    ['sitemap', pages, `From the site’s sitemap (${from})`],
    [
      'own-links',
      lost.links.filter((url) => url.startsWith(`${origin}/`)),
      'Linked from the page that is shown instead',
    ],
  ] as const) {
    if (addresses.length === 0) continue
    const index = indexOf(addresses)
    const near = bestPages(lost, index, { least: MIN_SCORE, most: MAX_PAGES })
    const seen = await Promise.all(near.map(async ({ page }) => ({ url: page.url, tried: await attempt(page.url) })))
    for (const { url, tried } of seen) if (!tried.ok) failed.push({ destination: url, why: tried.why })
    const titled = seen.flatMap(({ url, tried }) => (tried.ok ? [{ url, title: tried.title, tried }] : []))
    for (const { page, score } of rankAgain(lost, index, titled)) {
      if (score < OFFERED_FROM) continue
      const { tried } = titled.find(({ url }) => url === page.url)!
      if (offers.some((one) => one.destination === tried.final)) continue
      offers.push({
        kind,
        destination: tried.final,
        why: `${why}: name match ${score.toFixed(2)}.`,
        verified: tried.why,
        title: tried.title,
        sureness: REMEDY_KINDS[kind].sureness * score,
      })
    }
  }
  return { offers, failed }
}

// One site’s pages are looked through for many lost ones.
let last: { addresses: readonly string[]; index: PageIndex } | undefined
function indexOf(addresses: readonly string[]): PageIndex {
  if (last?.addresses !== addresses) last = { addresses, index: indexPages(addresses.map((url) => ({ url }))) }
  return last.index
}

/** The same pages with their titles, weighed as among all pages of the site. */
function rankAgain(lost: LostPage, whole: PageIndex, titled: { url: string; title: string }[]) {
  const index = indexPages(titled)
  return bestPages(lost, { ...index, weigh: whole.weigh }, { least: 0 })
}
