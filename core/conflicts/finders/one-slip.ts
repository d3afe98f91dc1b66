import type { SurveyLink } from '../../rows'
import { digitMask, slipPairs } from '../../slugs'
import type { Finder } from '../finder'
import { differ, type SurveyState } from '../state'
import { looksAlike } from './look-alike'
import { pairOf } from './pair'

/** Pairs a sweep keeps of one domain; more are a matter of the slug rules. */
const MAX_PAIRS = 20_000

/** Live links of different destinations one slip apart; a pair belongs to the link of the lower number. */
export const oneSlip = (state: SurveyState): Finder<number> => ({
  phase: 'slips',
  all: () => state.links.keys(),
  *affectedBy({ links }) {
    for (const id of links) {
      yield id
      const link = state.links.get(id)
      if (link && state.isLive(link)) yield* slipNeighbours(state, link.domainId, link.canonical)
    }
  },
  *examine(id) {
    const link = state.links.get(id)
    if (!link || !state.isLive(link)) return
    for (const near of slipNeighbours(state, link.domainId, link.canonical)) {
      const other = state.links.get(near)!
      if (near > id && isSlip(state, link, other)) yield pairOf('one-slip', link, other)
    }
  },
  *sweep() {
    const byDomain = new Map<number, SurveyLink[]>()
    for (const link of state.links.values()) {
      yield undefined
      if (!state.isLive(link)) continue
      const list = byDomain.get(link.domainId)
      if (list) list.push(link)
      else byDomain.set(link.domainId, [link])
    }
    for (const links of byDomain.values()) {
      let kept = 0
      for (const found of slipPairs(links.map((link) => link.canonical!))) {
        const [a, b] = found ? [links[found[0]]!, links[found[1]]!] : []
        if (!a || !b || !isSlip(state, a, b)) yield undefined
        else yield [Math.min(a.id, b.id), pairOf('one-slip', a, b)]
        if (a && ++kept === MAX_PAIRS) break
      }
    }
  },
})

const isSlip = (state: SurveyState, a: SurveyLink, b: SurveyLink) => differ(a, b) && !looksAlike(state, a, b)

/** Ids of live links of their own exactly one slip from a slug, siblings of a series left out. */
export function slipNeighbours(state: SurveyState, domainId: number, canonical: string): number[] {
  const table = state.table.domains.get(domainId)
  if (!table) return []
  const found = new Set<number>()
  const mask = digitMask(canonical)
  for (const near of state.slips.get(domainId)?.near(canonical, table.links) ?? []) {
    const entry = table.links.get(near)
    if (entry && near !== canonical && state.isLive(state.links.get(entry.id)) && digitMask(near) !== mask)
      found.add(entry.id)
  }
  return [...found]
}
