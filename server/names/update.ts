import { randomInt } from 'node:crypto'
import { hostOfName, lookup, makeZone, type DnsName, type DnsRecord, type Zone } from '../../core/dns'
import {
  decodeMessage,
  encodeMessage,
  prerequisitesOf,
  readTsig,
  sign,
  touchedSets,
  updateMessage,
  verify,
  type RecordChange,
  type TsigKey,
} from '../../core/dns/wire'
import { ask, exchange, type ServerAddress } from './ask'
import { answeredSet } from './live-sets'
import { primaryHint, refusalOf } from './update-refusal'

/** A set that is not as it was read. */
interface ChangedSet {
  name: string
  type: string
  expected: string[]
  found: string[]
}

/** Why a change was not made as it was meant. */
export interface NotUpdated {
  ok: false
  reason: 'key' | 'changed' | 'refused' | 'silent' | 'not-kept'
  sentence: string
  sets?: ChangedSet[]
  /** What of it stands at the server all the same, or may stand there. */
  left?: RecordChange
}
/** `signs`: the server was seen to sign what it had just taken by itself. */
export type Updated = { ok: true; signs?: true } | NotUpdated

const TIMEOUT_MS = 5000

const listed = (records: readonly DnsRecord[]) =>
  records.map((record) => `${record.type} ${record.data} of ${hostOfName(record.name)}`).join(', ')
const sameRecord = (a: DnsRecord) => (b: DnsRecord) => a.name === b.name && a.type === b.type && a.data === b.data
const without = (records: readonly DnsRecord[], others: readonly DnsRecord[]) =>
  records.filter((record) => !others.some(sameRecord(record)))

/**
 * Pushes a change to a name server by dynamic update (RFC 2136) signed with TSIG (RFC 8945). Every set it touches, and
 * every set beside which a record of it would be passed over, must still be as in `zone`, or nothing happens and the
 * sets that changed meanwhile are told. What became of it is read back, because a server may answer NOERROR and pass
 * over an addition (§3.4.2.2); what was done by halves is put back at once. Of a server that was seen to sign by itself
 * (`serverSigns`) the signatures of what an alias replaces are deleted too. Never rejects.
 */
export async function pushChange(
  server: ServerAddress,
  zone: Zone,
  change: RecordChange,
  key: TsigKey,
  { serverSigns = false }: { serverSigns?: boolean } = {},
): Promise<Updated> {
  const before = await readSets(server, change)
  if (before && differs(zone, change, before)) return versionConflict(server, zone, change)
  const signed = serverSigns ? await signedNames(server, change) : []
  const first = signed.length > 0 ? await send(server, zone, change, key, signed) : undefined
  // A server that signs by itself and knows that signatures are no other data takes no update of them.
  const sent =
    first !== undefined && (first === 'taken' || first === 'changed' || first.reason !== 'refused')
      ? first
      : await send(server, zone, change, key)
  if (sent !== 'taken' && sent !== 'changed' && sent.reason !== 'silent') return sent
  if (sent === 'changed') return versionConflict(server, zone, change)
  const after = await readSets(server, change)
  const at = `${server.host} port ${server.port}`
  if (!after)
    return {
      ok: false,
      reason: 'silent',
      sentence:
        `${at} ${sent === 'taken' ? 'took the update' : 'did not answer the update'}, and does not answer questions ` +
        `about it: look there whether ${listed([...change.add, ...change.remove])} was changed.`,
      left: change,
    }
  const kept = isKept(change, after)
  if (kept.length === 0) {
    const [first] = change.add
    return { ok: true, ...(first && (await isSigned(server, first.name, first.type)) && { signs: true as const }) }
  }
  // What stood and goes, what did not stand and came; a record that only got another TTL is neither.
  const was = change.remove.filter((record) => zone.set(record.name, record.type).some(sameRecord(record)))
  const done: RecordChange = {
    remove: without(was, after),
    add: without(change.add, was).filter((record) => after.some(sameRecord(record))),
  }
  if (sent !== 'taken' && done.add.length + done.remove.length === 0)
    return { ok: false, reason: 'silent', sentence: `${at} did not answer the update; the records are as they were.` }
  const overtaken = after.find(
    (record) => record.type === 'CNAME' && kept.some(({ name, type }) => type === 'CNAME' && name === record.name),
  )
  if (overtaken)
    return {
      ok: false,
      reason: 'not-kept',
      sentence:
        `${at} took the change, and somebody changed it at the same moment: ${hostOfName(overtaken.name)} is a CNAME ` +
        `to ${overtaken.data} now. Read the zone again and look at the plan.`,
      left: done,
    }
  const said = `The name server said yes but did not do it for ${listed(kept)}.`
  if (done.add.length + done.remove.length === 0) return { ok: false, reason: 'not-kept', sentence: said }
  return putBack(server, zone, done, after, key, said)
}

/** Takes back what was done of a change that was not done as a whole, on condition that nobody touched it since. */
async function putBack(
  server: ServerAddress,
  zone: Zone,
  done: RecordChange,
  live: readonly DnsRecord[],
  key: TsigKey,
  said: string,
): Promise<NotUpdated> {
  const inverse: RecordChange = { remove: done.add, add: done.remove }
  const sent = await send(server, makeZone(zone.origin, live), inverse, key)
  const after = await readSets(server, inverse)
  const undone = after ? isKept(inverse, after) : [...inverse.add, ...inverse.remove]
  if (sent === 'taken' && undone.length === 0)
    return {
      ok: false,
      reason: 'not-kept',
      sentence: `${said} Its changes were undone at once; ${listed(done.remove) || 'the zone'} is as it was.`,
    }
  const left: RecordChange = {
    remove: after ? without(done.remove, after) : done.remove,
    add: after ? done.add.filter((record) => after.some(sameRecord(record))) : done.add,
  }
  const now = [
    ...(left.remove.length > 0 ? [`${listed(left.remove)} is gone`] : []),
    ...(left.add.length > 0 ? [`${listed(left.add)} is there`] : []),
  ]
  return {
    ok: false,
    reason: 'not-kept',
    sentence: `${said} Undoing its changes failed: ${now.join(' and ') || 'look at the zone'} now.`,
    left,
  }
}

/**
 * Names at which a CNAME takes the place of signed records. Some servers that sign by themselves take the signatures,
 * which go with them, for other data beside it, and pass the CNAME over; they let them be deleted along.
 */
async function signedNames(server: ServerAddress, change: RecordChange): Promise<DnsName[]> {
  const aliased = new Set(change.add.filter(({ type }) => type === 'CNAME').map(({ name }) => name))
  const names: DnsName[] = []
  for (const name of aliased) {
    const goes = change.remove.find((record) => record.name === name && record.type !== 'CNAME')
    if (goes && (await isSigned(server, name, goes.type))) names.push(name)
  }
  return names
}

async function isSigned(server: ServerAddress, name: DnsName, type: string): Promise<boolean> {
  const asked = await ask(server, name, type, { signed: true })
  return asked.ok && asked.message.answer.some((record) => record.type === 'RRSIG' && record.name === name)
}

/** Sends one update; gives whether it was taken, refused because a set changed, or why not. */
async function send(
  server: ServerAddress,
  zone: Zone,
  change: RecordChange,
  key: TsigKey,
  unsigned: readonly DnsName[] = [],
): Promise<'taken' | 'changed' | NotUpdated> {
  const at = `${server.host} port ${server.port}`
  const now = Math.floor(Date.now() / 1000)
  const signed = await sign(encodeMessage(updateMessage(randomInt(65_536), zone, change, unsigned)), key, now)
  try {
    for await (const octets of exchange(server, signed.octets, TIMEOUT_MS, 2 * TIMEOUT_MS)) {
      const answer = decodeMessage(octets)
      const verdict = await verify(octets, key, Math.floor(Date.now() / 1000), signed.mac)
      // A server that does not know updates at all may send the question’s own signature back.
      const isUnsigned = !verdict.ok && (verdict.error === 'UNSIGNED' || readTsig(octets)?.error === 0)
      if (!verdict.ok && (!isUnsigned || answer.rcode === 'NOERROR'))
        return { ok: false, reason: 'key', sentence: `${at}: ${verdict.sentence}${await primaryHint(server, zone)}` }
      if (['NXRRSET', 'YXRRSET', 'YXDOMAIN', 'NXDOMAIN'].includes(answer.rcode)) return 'changed'
      if (answer.rcode === 'NOERROR') return 'taken'
      return await refusalOf(server, answer.rcode, zone.origin, key)
    }
  } catch {
    // Told below.
  }
  return { ok: false, reason: 'silent', sentence: `${at} did not answer the update.` }
}

/** The sets a change touches as the server gives them now; `undefined` where it does not answer for one of them. */
async function readSets(server: ServerAddress, change: RecordChange): Promise<DnsRecord[] | undefined> {
  const records: DnsRecord[] = []
  for (const touched of touchedSets(change)) {
    const set = await answeredSet(server, touched)
    if (!set) return undefined
    records.push(...set)
  }
  return records
}

/** Records of a change that are not as it wants them: additions that are missing, removals that are still there. */
function isKept(change: RecordChange, live: readonly DnsRecord[]): DnsRecord[] {
  return [
    ...without(change.add, live),
    ...without(change.remove, change.add).filter((record) => live.some(sameRecord(record))),
  ]
}

const dataOf = (records: readonly DnsRecord[], name: string, type: string) =>
  records
    .filter((record) => record.name === name && record.type === type)
    .map(({ data }) => data)
    .sort()

/** What the zone itself would answer, a wildcard's answers included, which look like the name's own. */
const answered = (zone: Zone, name: string, type: string) =>
  dataOf(lookup(zone, name, type).answer, name, type).join('\n')

/** Whether a set a change touches is answered otherwise than from the zone it was made for. */
const differs = (zone: Zone, change: RecordChange, live: readonly DnsRecord[]): boolean =>
  touchedSets(change).some(({ name, type }) => {
    const found = dataOf(live, name, type).join('\n')
    return found !== dataOf(zone.set(name, type), name, type).join('\n') && found !== answered(zone, name, type)
  })

async function versionConflict(server: ServerAddress, zone: Zone, change: RecordChange): Promise<NotUpdated> {
  const sets: ChangedSet[] = []
  for (const { name, type, data } of prerequisitesOf(zone, change)) {
    const found = ((await answeredSet(server, { name, type })) ?? []).map((record) => record.data).sort()
    const expected = [...data].sort()
    if (found.join('\n') !== expected.join('\n')) sets.push({ name: hostOfName(name), type, expected, found })
  }
  const words = sets.map(
    ({ name, type, expected, found }) =>
      `the ${type} records of ${name} are ${found.join(', ') || 'gone'} and were ${expected.join(', ') || 'not there'}`,
  )
  return {
    ok: false,
    reason: 'changed',
    sets,
    sentence:
      'Nothing was changed, because somebody changed the zone meanwhile: ' +
      `${words.join('; ') || 'a record set is not as it was read'}. Read the zone again and look at the ` +
      'plan.',
  }
}
