import { randomBytes } from 'node:crypto'
import type { DnsName, DnsRecord } from '../../core/dns'
import { ask, type ServerAddress } from './ask'

/**
 * The records that stand at some sets of an authoritative server now, as a base for a change that must overwrite
 * nothing; `undefined` where it does not answer for one of them. What a wildcard answers looks like the name's own
 * (RFC 4592 §2.1.3) and cannot be removed there: a name beside it that nobody uses tells the two apart.
 */
export async function readLiveSets(
  server: ServerAddress,
  sets: readonly { name: DnsName; type: string }[],
): Promise<DnsRecord[] | undefined> {
  const records: DnsRecord[] = []
  for (const { name, type } of sets) {
    const own = await setAt(server, name, type)
    if (!own) return undefined
    if (own.length === 0) continue
    const beside = await setAt(server, `fides-${randomBytes(9).toString('hex')}${name.slice(name.indexOf('.'))}`, type)
    const same = beside?.length === own.length && own.every(({ data }) => beside.some((one) => one.data === data))
    if (!same) records.push(...own)
  }
  return records
}

async function setAt(server: ServerAddress, name: DnsName, type: string): Promise<DnsRecord[] | undefined> {
  const asked = await ask(server, name, type)
  if (!asked.ok || (asked.message.rcode !== 'NOERROR' && asked.message.rcode !== 'NXDOMAIN') || !asked.message.aa)
    return undefined
  return asked.message.answer
    .filter((record) => record.name === name && record.type === type)
    .map(({ ttl, data }) => ({ name, type, ttl, data }))
}
