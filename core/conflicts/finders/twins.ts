import type { Finder } from '../finder'
import type { SurveyState } from '../state'

const MAX_TWINS = 50

/** Several links of their own that lead to one place. */
export const twins = (state: SurveyState): Finder<string> => ({
  phase: 'twins',
  all: () => state.places.several(),
  affectedBy: ({ places }) => places,
  *examine(place) {
    const links = [...state.places.get(place)]
      .map((id) => state.links.get(id)!)
      .filter((link) => state.counts(link))
      .sort((a, b) => b.visits28 - a.visits28 || a.id - b.id)
    if (links.length < 2) return
    const first = links.reduce((least, link) => (link.id < least.id ? link : least))
    yield {
      kind: 'twins',
      key: `twins ${place}`,
      domainId: first.domainId,
      links: links.slice(0, MAX_TWINS).map(({ id }) => id),
      rules: [],
      end: place,
      count: links.length,
      sentences:
        new Set(links.map(({ destination }) => destination)).size > 1
          ? ['They differ only in tracking parameters or in the spelling of the address.']
          : [],
    }
  },
})
