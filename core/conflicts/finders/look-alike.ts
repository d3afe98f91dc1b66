import type { SurveyLink } from '../../rows'
import type { Finder } from '../finder'
import { differ, lookKey, type SurveyState } from '../state'
import { pairOf } from './pair'

/** Pairs of a group that are told; larger groups are a matter of the slug rules, not of single pairs. */
const MAX_OF_GROUP = 12

/** Links of different destinations that look alike. */
export const lookAlike = (state: SurveyState): Finder<string> => ({
  phase: 'look-alikes',
  all: () => state.looks.several(),
  affectedBy: ({ looks }) => looks,
  *examine(key) {
    const links = [...state.looks.get(key)]
      .map((id) => state.links.get(id))
      .filter((link): link is SurveyLink & { canonical: string } => state.counts(link))
      .sort((a, b) => b.visits28 - a.visits28 || a.id - b.id)
      .slice(0, MAX_OF_GROUP)
    for (const [at, one] of links.entries())
      for (const other of links.slice(at + 1)) if (differ(one, other)) yield pairOf('look-alike', one, other)
  },
})

/** Ids of links of their own that look like a slug. */
export const lookNeighbours = (state: SurveyState, domainId: number, canonical: string): number[] =>
  [...state.looks.get(lookKey(domainId, canonical))].filter(
    (id) => state.counts(state.links.get(id)) && state.links.get(id)!.canonical !== canonical,
  )

/** Whether two links look alike and both answer or will. */
export const looksAlike = (state: SurveyState, a: SurveyLink, b: SurveyLink): boolean =>
  state.counts(a) && state.counts(b) && lookKey(a.domainId, a.canonical!) === lookKey(b.domainId, b.canonical!)
