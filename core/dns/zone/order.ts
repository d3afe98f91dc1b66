import { labelsOf } from '../name'
import { typeRank } from '../record-types'

/** Puts sets in the order people read a zone: from the apex down, the common types first (names by RFC 4034 §6.1). */
export function sortSets<Set extends { name: string; type: string }>(sets: Set[]): Set[] {
  const keyed = sets.map((set) => ({ set, key: labelsOf(set.name).reverse().join('\u0000') }))
  keyed.sort((a, b) =>
    a.key < b.key
      ? -1
      : a.key > b.key
        ? 1
        : typeRank(a.set.type) - typeRank(b.set.type) || (a.set.type < b.set.type ? -1 : 1),
  )
  return keyed.map(({ set }) => set)
}
