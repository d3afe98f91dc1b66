import { randomInt } from 'node:crypto'
import { hostOfName, type Zone } from '../../core/dns'
import {
  decodeMessage,
  encodeMessage,
  prerequisitesOf,
  sign,
  updateMessage,
  verify,
  type RecordChange,
  type TsigKey,
} from '../../core/dns/wire'
import { ask, exchange, type ServerAddress } from './ask'

export type Updated =
  | { ok: true }
  | {
      ok: false
      reason: 'key' | 'changed' | 'refused' | 'silent' | 'not-kept'
      sentence: string
      sets?: { name: string; type: string; expected: string[]; found: string[] }[]
    }

const TIMEOUT_MS = 5000

/**
 * Pushes a change to a name server by dynamic update (RFC 2136) signed with TSIG (RFC 8945). Every set it touches must
 * still be as in `zone`, or nothing happens and the sets that changed meanwhile are told. Reads back afterwards,
 * because a server may answer NOERROR and pass over an addition (RFC 2136 §3.4.2.2). Never rejects.
 */
export async function pushChange(
  server: ServerAddress,
  zone: Zone,
  change: RecordChange,
  key: TsigKey,
): Promise<Updated> {
  const at = `${server.host} port ${server.port}`
  const signed = await sign(
    encodeMessage(updateMessage(randomInt(65_536), zone, change)),
    key,
    Math.floor(Date.now() / 1000),
  )
  try {
    for await (const octets of exchange(server, signed.octets, TIMEOUT_MS)) {
      const input = decodeMessage(octets)
      const verdict = await verify(octets, key, Math.floor(Date.now() / 1000), signed.mac)
      if (!verdict.ok && (verdict.error !== 'UNSIGNED' || input.rcode === 'NOERROR'))
        return { ok: false, reason: 'key', sentence: `${at}: ${verdict.sentence}` }
      if (
        input.rcode === 'NXRRSET' ||
        input.rcode === 'YXRRSET' ||
        input.rcode === 'YXDOMAIN' ||
        input.rcode === 'NXDOMAIN'
      )
        return await changedMeanwhile(server, zone, change)
      if (input.rcode === 'NOTAUTH')
        return {
          ok: false,
          reason: 'key',
          sentence:
            `${at} does not know the key ${hostOfName(key.name)}, or is not the name server of ` +
            `${hostOfName(zone.origin)} (NOTAUTH).`,
        }
      if (input.rcode !== 'NOERROR')
        return {
          ok: false,
          reason: 'refused',
          sentence:
            `${at} refuses the update of ${hostOfName(zone.origin)} (${input.rcode}); its update policy must ` +
            `allow the key ${hostOfName(key.name)}.`,
        }
      return await readBack(server, change)
    }
  } catch {
    // Told below.
  }
  return { ok: false, reason: 'silent', sentence: `${at} did not answer the update; nothing is known to have changed.` }
}

async function dataAt(server: ServerAddress, name: string, type: string): Promise<string[]> {
  const asked = await ask(server, name, type)
  return asked.ok
    ? asked.message.answer
        .filter((record) => record.name === name && record.type === type)
        .map((record) => record.data)
        .sort()
    : []
}

async function changedMeanwhile(server: ServerAddress, zone: Zone, change: RecordChange): Promise<Updated> {
  const sets = []
  for (const { name, type, data } of prerequisitesOf(zone, change)) {
    const found = await dataAt(server, name, type)
    const expected = [...data].sort()
    if (found.join('\n') !== expected.join('\n')) sets.push({ name: hostOfName(name), type, expected, found })
  }
  const view = sets.map(
    ({ name, type, expected, found }) =>
      `the ${type} records of ${name} are ${found.join(', ') || 'gone'} and were ${expected.join(', ') || 'not there'}`,
  )
  return {
    ok: false,
    reason: 'changed',
    sets,
    sentence:
      'Nothing was changed, because somebody changed the zone meanwhile: ' +
      `${view.join('; ') || 'a record set is not as it was read'}. Read the zone again and look at the ` +
      'plan.',
  }
}

async function readBack(server: ServerAddress, change: RecordChange): Promise<Updated> {
  const missing = []
  for (const record of change.add)
    if (!(await dataAt(server, record.name, record.type)).includes(record.data)) missing.push(record)
  for (const record of change.remove) {
    const stays = change.add.some(
      (added) => added.name === record.name && added.type === record.type && added.data === record.data,
    )
    if (!stays && (await dataAt(server, record.name, record.type)).includes(record.data)) missing.push(record)
  }
  if (missing.length === 0) return { ok: true }
  const view = missing.map((record) => `${record.type} ${record.data} of ${hostOfName(record.name)}`)
  return {
    ok: false,
    reason: 'not-kept',
    sentence: `The name server said yes but did not do it for ${view.join(', ')}.`,
  }
}
