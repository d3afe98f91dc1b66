import { slipCost, slipsOf } from './align'
import { calibrated, FIT } from './calibration'
import { COSTS, REASONS, type Reason } from './costs'
import type { LinkIndex } from './link-index'
import { NONE, noneCost } from './none'
import { readingsOf, type Reading } from './readings'
import { tailOf } from './keys'
import type { Segment } from './segment'
import { plainSpelling, sortedWords, withFigures } from './words'

/** A link that may have been meant. */
export interface Candidate {
  /** The link that stands behind. */
  link: number
  /** The slug that came nearest: the link itself, or one that forwards to it. */
  slugId: number
  domainId: number
  /** That slug’s address, as it stands in the table. */
  canonical: string
  /** That it was meant, from 0 to 1. */
  probability: number
  live: boolean
  shown: boolean
  /** Why, in words. */
  because: string[]
}

/** What was meant by a path, as far as can be told. */
export interface Ranking {
  candidates: Candidate[]
  /** The probability that nothing of ours was meant. */
  none: number
}

/** What is asked: a canonical path under a domain, and what its visitors found next, by link and how often. */
export interface RankQuery {
  domainId: number
  path: string
  followed?: ReadonlyMap<number, number>
  /** At most so many candidates come back. */
  most?: number
}

/** Longer paths are nobody's slip. */
export const MAX_RANKED = 200
const MAX_CANDIDATES = 96
const MAX_BEGINNING = 48
const LOOK_BEGINNING = 1500
const MAX_SHARING = 24
/** What costs so much more than the best is not worth the exact figure. */
const MAX_APART = 10
/** Where the best so far costs more, runs of letters are looked at too. */
const POOR = 5
/** Finding a link next, with the same visit, speaks for it as much as this (in nats), up to a bound. */
const FOLLOWED_EACH = 2.2
const MAX_FOLLOWED = 9

interface Scored {
  segment: Segment
  at: number
  reading: Reading
  cost: number
  score: number
}

/**
 * Ranks the links a path that found nothing may mean, after the noisy channel (Kernighan, Church & Gale 1990): how
 * often each is visited, times how likely its slug comes out as what was typed; and weighs them against nothing of
 * ours having been meant. Bounded in time whatever is asked; longer paths than any slug rank nothing.
 */
export function rank(index: LinkIndex, query: RankQuery): Ranking {
  if (query.path === '' || query.path.length > MAX_RANKED) return { candidates: [], none: 1 }
  const readings = readingsOf(query.path)
  const found = new Map<number, Scored>()
  const segments = index.segments()
  const logAll = Math.log(index.totalVisits + FIT.smoothing * Math.max(1, index.size))
  let cheapest = Infinity
  const capitals = hasCapitals(query.path)
  const score = (segment: Segment, stale: ReadonlySet<number>, ordinals: ReadonlySet<number>, ofWords?: string) => {
    for (const at of ordinals) {
      if (stale.size > 0 && stale.has(segment.idAt(at))) continue
      const plain = segment.plainAt(at)
      const leader = segment.leaderAt(at)
      const same = ofWords !== undefined && sortedWords(plain) === ofWords
      const standing =
        (segment.domainAt(at) === query.domainId ? 0 : COSTS.otherDomain) +
        (capitals === hasCapitals(segment.canonicalAt(at)) ? 0 : COSTS.capitals)
      const lift = Math.min(MAX_FOLLOWED, FOLLOWED_EACH * (query.followed?.get(leader) ?? 0))
      for (const reading of readings) {
        let own = explain(reading.plain, plain, cheapest + MAX_APART)
        if (same) own = Math.min(own, wordsCost(reading.plain, plain))
        const cost = reading.cost + own + standing
        if (cost < cheapest) cheapest = cost
        const value = Math.log(segment.visitsAt(at) + FIT.smoothing) - logAll - cost + lift
        const known = found.get(leader)
        if (!known || value > known.score) found.set(leader, { segment, at, reading, cost, score: value })
      }
    }
  }
  for (const { segment, stale } of segments) {
    const ordinals = new Set<number>()
    for (const { plain } of readings) {
      segment.near(plain, ordinals, MAX_CANDIDATES)
      segment.beginning(plain, ordinals, LOOK_BEGINNING, MAX_BEGINNING)
    }
    score(segment, stale, ordinals)
    for (const { plain } of readings) {
      const words = sortedWords(plain)
      const same = new Set<number>()
      segment.ofWords(words, same, MAX_CANDIDATES)
      score(segment, stale, same, words)
    }
  }
  if (cheapest > POOR)
    for (const { segment, stale } of segments) {
      const ordinals = new Set<number>()
      for (const { plain } of readings) {
        segment.sounding(plain, ordinals, 3 * MAX_SHARING)
        segment.sharing(plain, ordinals, 4 * MAX_SHARING)
      }
      score(segment, stale, ordinals)
    }
  return weigh([...found.values()], readings, query)
}

const CAPITAL = /\p{Lu}/u
const hasCapitals = (path: string) => CAPITAL.test(path)

function weigh(scored: Scored[], readings: readonly Reading[], query: RankQuery): Ranking {
  const nothing = Math.log(NONE.prior) - noneCost(query.path, readings.at(-1)!.plain)
  scored.sort((a, b) => b.score - a.score)
  const best = Math.max(nothing, scored[0]?.score ?? -Infinity)
  const weightOf = (value: number) => Math.exp((value - best) * FIT.sharpness)
  let sum = weightOf(nothing)
  for (const { score } of scored) sum += weightOf(score)
  const shares = scored.slice(0, query.most ?? 8).map(({ score }) => weightOf(score) / sum)
  // The first is calibrated; the others and nothing share what it leaves as they did.
  const first = calibrated(shares[0] ?? 0)
  const left = shares[0] === undefined || shares[0] >= 1 ? 0 : (1 - first) / (1 - shares[0])
  const candidates = shares.map((share, rank): Candidate => {
    const one = scored[rank]!
    const { segment, at } = one
    return {
      link: segment.leaderAt(at),
      slugId: segment.idAt(at),
      domainId: segment.domainAt(at),
      canonical: segment.canonicalAt(at),
      probability: rank === 0 ? first : share * left,
      live: segment.isLive(at),
      shown: segment.isShown(at),
      because: because(one, segment.plainAt(at), query),
    }
  })
  return { candidates, none: shares.length === 0 ? 1 : (weightOf(nothing) / sum) * left }
}

/** The cheapest explanation of a text for another by its letters and its first part. */
function explain(typed: string, meant: string, most: number): number {
  let best = slipCost(typed, meant, most)
  if (best < COSTS.familyLost) return best
  const typedTail = tailOf(typed)
  const meantTail = tailOf(meant)
  // Of one family: nothing is lost or added before.
  if (typedTail !== '' && meantTail !== '' && typed.length - typedTail.length === meant.length - meantTail.length)
    if (typed.startsWith(meant.slice(0, meant.length - meantTail.length))) return best
  if (meantTail !== '') {
    best = Math.min(best, COSTS.familyLost + slipCost(typed, meantTail, best))
    if (typedTail !== '') best = Math.min(best, COSTS.familyOther + slipCost(typedTail, meantTail, best))
  }
  if (typedTail !== '') best = Math.min(best, COSTS.familyAdded + slipCost(typedTail, meant, best))
  return best
}

/** What two texts of the same words differ in. */
function wordsReason(typed: string, meant: string): Reason {
  const figures = withFigures(typed) === withFigures(meant)
  if (figures) return 'numeral'
  return plainSpelling(withFigures(typed)) === plainSpelling(withFigures(meant)) ? 'variant' : 'word-order'
}
const wordsCost = (typed: string, meant: string): number => {
  const reason = wordsReason(typed, meant)
  return reason === 'numeral' ? COSTS.numeral : reason === 'variant' ? COSTS.variant : COSTS.wordOrder
}

function because({ segment, at, reading, cost }: Scored, meant: string, query: RankQuery): string[] {
  const typed = reading.plain
  const reasons: Reason[] = []
  if (reading.reason) reasons.push(reading.reason)
  if (segment.domainAt(at) !== query.domainId) reasons.push('other-domain')
  if (hasCapitals(query.path) !== hasCapitals(segment.canonicalAt(at))) reasons.push('capitals')
  const own =
    cost -
    reading.cost -
    (reasons.includes('other-domain') ? COSTS.otherDomain : 0) -
    (reasons.includes('capitals') ? COSTS.capitals : 0)
  const isIt = (value: number) => Math.abs(value - own) < 1e-6
  const tails: [number, string, string, Reason][] = [
    [0, typed, meant, 'substitution'],
    [COSTS.familyLost, typed, tailOf(meant), 'family-lost'],
    [COSTS.familyOther, tailOf(typed), tailOf(meant), 'family-other'],
    [COSTS.familyAdded, tailOf(typed), meant, 'family-added'],
  ]
  const how = tails.find(([price, a, b]) => a !== '' && b !== '' && isIt(price + slipCost(a, b)))
  if (!how && sortedWords(typed) === sortedWords(meant)) reasons.push(wordsReason(typed, meant))
  if (how) {
    if (how[0] > 0) reasons.push(how[3])
    reasons.push(...slipsOf(how[1], how[2]))
  }
  if ((query.followed?.get(segment.leaderAt(at)) ?? 0) > 0) reasons.push('followed')
  return [...new Set(reasons)].map((reason) => REASONS[reason])
}
