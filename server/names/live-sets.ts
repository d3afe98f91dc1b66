import { parentOf, type DnsName, type DnsRecord } from '../../core/dns'
import { ask, type ServerAddress } from './ask'

/** What an authoritative server answers for one set now; `undefined` where it does not answer, or not for the zone. */
export async function answeredSet(
  server: ServerAddress,
  { name, type }: { name: DnsName; type: string },
): Promise<DnsRecord[] | undefined> {
  const asked = await ask(server, name, type)
  if (!asked.ok || (asked.message.rcode !== 'NOERROR' && asked.message.rcode !== 'NXDOMAIN') || !asked.message.aa)
    return undefined
  return asked.message.answer
    .filter((record) => record.name === name && record.type === type)
    .map(({ ttl, data }) => ({ name, type, ttl, data }))
}

/**
 * The records that stand at some sets of an authoritative server now, as a base for a change that must overwrite
 * nothing; `undefined` where it does not answer for one of them. What a wildcard answers looks like the name's own
 * (RFC 4592 §2.1.3) and cannot be removed there: `*` below the parent, asked for itself, tells the two apart.
 */
export async function readLiveSets(
  server: ServerAddress,
  sets: readonly { name: DnsName; type: string }[],
): Promise<DnsRecord[] | undefined> {
  const records: DnsRecord[] = []
  for (const set of sets) {
    const own = await answeredSet(server, set)
    if (!own) return undefined
    const parent = parentOf(set.name)
    const star = own.length > 0 && parent && (await answeredSet(server, { ...set, name: `*.${parent}` }))
    const made = star && star.length === own.length && own.every(({ data }) => star.some((one) => one.data === data))
    if (!made) records.push(...own)
  }
  return records
}
