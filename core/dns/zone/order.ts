import { labelsOf } from '../name'

const FIRST = ['SOA', 'NS', 'A', 'AAAA', 'CNAME', 'MX', 'TXT', 'CAA']
const rank = (type: string) => (FIRST.includes(type) ? FIRST.indexOf(type) : FIRST.length)

/** Puts sets in the order people read a zone: from the apex down, the common types first (names by RFC 4034 §6.1). */
export function sortSets<Set extends { name: string; type: string }>(sets: Set[]): Set[] {
  const keyed = sets.map((set) => ({ set, key: labelsOf(set.name).reverse().join('\u0000') }))
  keyed.sort((a, b) =>
    a.key < b.key ? -1 : a.key > b.key ? 1 : rank(a.set.type) - rank(b.set.type) || (a.set.type < b.set.type ? -1 : 1),
  )
  return keyed.map(({ set }) => set)
}
