import type { Case } from '~~/core/schemas'

/** The docket's lanes in their order, as people call them. */
export const LANE_NAMES: readonly [lane: Case['lane'], name: string][] = [
  ['targets', 'Broken targets'],
  ['misses', 'Not found'],
  ['conflicts', 'Conflicts'],
  ['domains', 'Domains'],
  ['dates', 'Dates'],
]

/** Visits a day as people read them. */
export const visitsADay = (visits: number): string =>
  visits >= 10 || visits === 0 ? Math.round(visits).toLocaleString('en') : visits.toFixed(1)
