import { recordSets, setKey, type DnsRecord, type RecordSet } from '../record'
import { sortSets } from './order'

export interface SetDifference {
  name: string
  type: string
  change: 'added' | 'removed' | 'changed' | 'ttl'
  before: DnsRecord[]
  after: DnsRecord[]
}

const contents = (set: RecordSet | undefined) =>
  (set?.records ?? [])
    .map((record) => record.data)
    .sort()
    .join('\n')
const ttls = (set: RecordSet | undefined) =>
  [...new Set((set?.records ?? []).map((record) => record.ttl))].sort().join(' ')

/** Compares two zones set by set (RFC 2181 §5); the order of records within a set means nothing. */
export function compareZones(before: readonly DnsRecord[], after: readonly DnsRecord[]): SetDifference[] {
  const old = new Map(recordSets(before).map((set) => [setKey(set), set]))
  const fresh = new Map(recordSets(after).map((set) => [setKey(set), set]))
  const differences: SetDifference[] = []
  for (const key of new Set([...old.keys(), ...fresh.keys()])) {
    const was = old.get(key)
    const is = fresh.get(key)
    const { name, type } = (is ?? was)!
    const change = !was
      ? 'added'
      : !is
        ? 'removed'
        : contents(was) !== contents(is)
          ? 'changed'
          : ttls(was) !== ttls(is)
            ? 'ttl'
            : undefined
    if (change) differences.push({ name, type, change, before: was?.records ?? [], after: is?.records ?? [] })
  }
  return sortSets(differences)
}
