import type { Finder } from '../finder'
import type { SurveyState } from '../state'

/** Links that would be one address, by their slugs as typed under the domain's rules of today. */
export const sameAddress = (state: SurveyState): Finder<string> => ({
  phase: 'links',
  all: () => state.readings.keys(),
  affectedBy: ({ readings }) => readings,
  *examine(reading) {
    const slash = reading.indexOf('/')
    const [domainId, canonical] = [Number(reading.slice(0, slash)), reading.slice(slash + 1)]
    const ids = new Set(state.readings.get(reading))
    const holder = state.table.domains.get(domainId)?.links.get(canonical)
    // Whoever has the address is read as it, unless its own slug is read otherwise.
    if (holder && state.readingOf(state.links.get(holder.id)!) === reading) ids.add(holder.id)
    if (ids.size < 2) return
    const links = [...ids].sort((a, b) => a - b)
    yield {
      kind: 'same-address',
      key: `same-address ${links.join(' ')}`,
      domainId,
      links,
      rules: [],
      witness: canonical,
    }
  },
})
