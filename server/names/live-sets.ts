import { randomInt } from 'node:crypto'
import type { DnsName, DnsRecord } from '../../core/dns'
import { ask, type ServerAddress } from './ask'

/** What an authoritative server answers for one set now; `undefined` where it does not answer, or not for the zone. */
export async function answeredSet(
  server: ServerAddress,
  { name, type }: { name: DnsName; type: string },
  pace?: () => Promise<void>,
): Promise<DnsRecord[] | undefined> {
  const asked = await ask(server, name, type, { pace })
  if (!asked.ok || (asked.message.rcode !== 'NOERROR' && asked.message.rcode !== 'NXDOMAIN') || !asked.message.aa)
    return undefined
  return asked.message.answer
    .filter((record) => record.name === name && record.type === type)
    .map(({ ttl, data }) => ({ name, type, ttl, data }))
}

/**
 * Whether what a name answers is made up by a wildcard above it (RFC 4592 §3.3.1): then a name below its own asterisk
 * answers the same. Where the name or that asterisk exists, it is the closest encloser, and nothing is below it.
 */
export async function isSynthesized(
  server: ServerAddress,
  { name, type }: { name: DnsName; type: string },
  own: readonly DnsRecord[],
  pace?: () => Promise<void>,
): Promise<boolean> {
  if (own.length === 0 || name.length > 230) return false
  const below = await answeredSet(server, { name: `fides-${randomInt(1e9)}.*.${name}`, type }, pace)
  return below?.length === own.length && own.every(({ data }) => below.some((one) => one.data === data))
}

/**
 * The records that stand at some sets of an authoritative server now, as a base for a change that must overwrite
 * nothing; `undefined` where it does not answer for one of them. What a wildcard answers looks like the name's own
 * (RFC 4592 §2.1.3) and cannot be removed there, so it is left out.
 */
export async function readLiveSets(
  server: ServerAddress,
  sets: readonly { name: DnsName; type: string }[],
): Promise<DnsRecord[] | undefined> {
  const records: DnsRecord[] = []
  for (const set of sets) {
    const own = await answeredSet(server, set)
    if (!own) return undefined
    if (!(await isSynthesized(server, set, own))) records.push(...own)
  }
  return records
}
