import type { RegisterFilters } from '~~/core/schemas'

const WORDS: Partial<Record<keyof RegisterFilters, (value: string) => string>> = {
  q: (value) => `“${value}”`,
  target: (value) => (value === 'faulty' ? 'broken or doubtful' : value === 'unknown' ? 'not checked' : value),
  endsWithin: (value) => `ending in ${value} days`,
  changedWithin: (value) => `changed in ${value} days`,
  visited: () => 'never visited',
  waiting: () => 'domain not open',
  tag: (value) => `tag ${value}`,
  owner: (value) => `owner ${value}`,
}

/** Filters of the register in words, whatever their order of links. */
export const filterWords = (filters: RegisterFilters): string =>
  (Object.entries(filters) as [keyof RegisterFilters, string | undefined][])
    .flatMap(([name, value]) => (value && name !== 'sort' ? [WORDS[name]?.(value) ?? value] : []))
    .join(', ')
