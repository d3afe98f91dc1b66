import { canonicalSlug } from '../address'
import type { Forgiveness } from '../rows/domain'
import type { DomainTable } from './compile'
import type { Entry } from './entry'
import { standingAt } from './standing'

/** What may mend a request that found nothing (semantics §1 item 7), in the order it is tried. */
export const MENDS = ['punctuation', 'capitals', 'look-alikes'] as const
export type Mend = (typeof MENDS)[number]

export const UNFORGIVING: Forgiveness = { punctuation: false, capitals: false, lookAlikes: false }

export type ForgivenessVerdict =
  { verdict: 'mended'; entry: Entry; slug: string; by: Mend } | { verdict: 'ambiguous'; by: Mend } | undefined

/** What follows an address in running text; in canonical slugs some of it stands as escapes. */
const TRAILING = /(?:[.,;:!?)\]}>'"]|%2[01279C]|%3[ABEF]|%5D|%7D)+$/

/** Longer paths than any canonical slug can be are nobody's slip. */
const MAX_LENGTH = 700

/**
 * Looks for the one live link a request most likely meant, after what is switched on: text punctuation at its end taken
 * away, then without regard to capitals, then without regard to look-alikes. Two or more live links leave it
 * unanswered.
 */
export function forgive(part: DomainTable, canonical: string, now: number): ForgivenessVerdict {
  if (canonical.length > MAX_LENGTH) return undefined
  const { forgiveness } = part.domain
  let slug = canonical
  if (forgiveness.punctuation) {
    const stripped = canonical.replace(TRAILING, '')
    const reread = stripped === canonical || stripped === '' ? undefined : canonicalSlug(stripped, part.domain)
    if (reread) {
      const entry = part.links.get(reread)
      if (entry && isLive(entry, now)) return { verdict: 'mended', entry, slug: reread, by: 'punctuation' }
      slug = reread
    }
  }
  for (const by of ['capitals', 'look-alikes'] as const) {
    if (!(by === 'capitals' ? forgiveness.capitals : forgiveness.lookAlikes)) continue
    const candidates = new Map<number, { entry: Entry; slug: string }>()
    for (const near of part.near?.near(slug, by) ?? []) {
      const entry = part.links.get(near)
      // A link and the slugs that forward to it are one.
      if (entry && isLive(entry, now) && !candidates.has(entry.leader))
        candidates.set(entry.leader, { entry, slug: near })
    }
    const [only, second] = candidates.values()
    if (second) return { verdict: 'ambiguous', by }
    if (only) return { verdict: 'mended', ...only, by }
  }
  return undefined
}

const isLive = (entry: Entry, now: number): boolean =>
  entry.plainlyLive || standingAt(entry.standingFacts, now) === 'live'
