/** What narrows and orders the register; kept in the address bar. */
export const REGISTER_FILTERS = [
  'q',
  'domain',
  'standing',
  'redirect',
  'target',
  'endsWithin',
  'changedWithin',
  'visited',
  'waiting',
  'tag',
  'owner',
  'sort',
] as const

export type RegisterFilters = Partial<Record<(typeof REGISTER_FILTERS)[number], string>>
