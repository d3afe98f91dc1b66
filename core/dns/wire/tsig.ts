import { encodeName } from '../fields'
import { Reader } from '../reader'
import { nameOf, type DnsName } from '../name'
import { textOf } from '../text'
import { DataFault } from '../token'
import { join, META_TYPE, two } from './message'
import { walk } from './walk'

/** A shared secret for signing messages (RFC 8945). */
export interface TsigKey {
  name: DnsName
  secret: Uint8Array
}

const ALGORITHM: DnsName = 'hmac-sha256.'
const FUDGE_SECONDS = 300
const CLASS_ANY = 255
/** TSIG errors (RFC 8945 §3). */
const ERRORS: Record<number, string> = { 16: 'BADSIG', 17: 'BADKEY', 18: 'BADTIME', 22: 'BADTRUNC' }
/** What a name server that could not check a signature says of the key, and where to look (RFC 8945 §5.2). */
const REFUSED_KEY: Record<number, string> = {
  16: 'The name server has another secret for this key (BADSIG); copy it again.',
  17:
    'The name server takes nothing signed with this key (BADKEY): it has none of this name with hmac-sha256, or its ' +
    'rules do not allow it this zone; look how its configuration calls the key, and what it may do.',
}
export const TSIG_ERROR = { BADSIG: 16, BADKEY: 17, BADTIME: 18 } as const

export interface TsigRecord {
  keyName: DnsName
  algorithm: DnsName
  timeSigned: number
  fudge: number
  mac: Uint8Array
  originalId: number
  error: number
  other: Uint8Array
  /** The message as it was before signing. */
  unsigned: Uint8Array
}

const seconds48 = (seconds: number) =>
  join([two(Math.floor(seconds / 2 ** 32)), two(Math.floor(seconds / 65_536) & 65_535), two(seconds & 65_535)])

async function hmac(secret: Uint8Array, pieces: Uint8Array[]): Promise<Uint8Array> {
  const key = await crypto.subtle.importKey('raw', Uint8Array.from(secret), { name: 'HMAC', hash: 'SHA-256' }, false, [
    'sign',
  ])
  return new Uint8Array(await crypto.subtle.sign('HMAC', key, Uint8Array.from(join(pieces))))
}

interface Variables {
  timeSigned: number
  fudge: number
  error: number
  other: Uint8Array
}
/** The TSIG variables that are signed with the message (RFC 8945 §4.3.3). */
const variables = (name: DnsName, { timeSigned, fudge, error, other }: Variables) =>
  join([
    encodeName(name),
    two(CLASS_ANY),
    two(0),
    two(0),
    encodeName(ALGORITHM),
    seconds48(timeSigned),
    two(fudge),
    two(error),
    two(other.length),
    other,
  ])
/** The same for all but the first message of a transfer (RFC 8945 §5.3.1). */
const timers = ({ timeSigned, fudge }: Variables) => join([seconds48(timeSigned), two(fudge)])
const chained = (mac: Uint8Array | undefined) => (mac ? [two(mac.length), mac] : [])

function append(octets: Uint8Array, record: Uint8Array): Uint8Array {
  const signed = join([octets, record])
  const count = signed[10]! * 256 + signed[11]! + 1
  signed[10] = count >> 8
  signed[11] = count & 255
  return signed
}

/**
 * Signs a message with HMAC-SHA256; `requestMac` where it answers a signed one, or is a `later` one of a transfer and
 * follows on the MAC before it (RFC 8945 §5.3.1). `now` in seconds; an answer of BADTIME repeats
 * the asker's and tells its own `clock` (§5.2.3). Returns it with its MAC.
 */
export async function sign(
  octets: Uint8Array,
  key: TsigKey,
  now: number,
  requestMac?: Uint8Array,
  { error = 0, later = false, clock = now }: { error?: number; later?: boolean; clock?: number } = {},
): Promise<{ octets: Uint8Array; mac: Uint8Array }> {
  const fields: Variables = {
    timeSigned: now,
    fudge: FUDGE_SECONDS,
    error,
    other: error === TSIG_ERROR.BADTIME ? seconds48(clock) : new Uint8Array(),
  }
  const mac =
    error === TSIG_ERROR.BADSIG || error === TSIG_ERROR.BADKEY
      ? new Uint8Array()
      : await hmac(key.secret, [...chained(requestMac), octets, later ? timers(fields) : variables(key.name, fields)])
  const data = join([
    encodeName(ALGORITHM),
    seconds48(now),
    two(FUDGE_SECONDS),
    two(mac.length),
    mac,
    octets.subarray(0, 2),
    two(error),
    two(fields.other.length),
    fields.other,
  ])
  return {
    octets: append(
      octets,
      join([encodeName(key.name), two(META_TYPE.TSIG), two(CLASS_ANY), two(0), two(0), two(data.length), data]),
    ),
    mac,
  }
}

/** The TSIG record at a message's end (RFC 8945 §5.1); `undefined` for an unsigned message. */
export function readTsig(octets: Uint8Array): TsigRecord | undefined {
  const { sections } = walk(octets)
  const last = sections[2].at(-1)
  if (last?.type !== META_TYPE.TSIG) return undefined
  const reader = new Reader(octets.subarray(last.dataStart, last.end))
  const labels: string[] = []
  for (let length = reader.number(1); length > 0; length = reader.number(1)) {
    if (length > 63) throw new DataFault('the algorithm’s name is compressed')
    labels.push(textOf(reader.take(length)))
  }
  const timeSigned = reader.number(6)
  const fudge = reader.number(2)
  const mac = reader.take(reader.number(2))
  const originalId = reader.number(2)
  const error = reader.number(2)
  const other = reader.take(reader.number(2))
  // A copy: of a Buffer, slice would be a view.
  const unsigned = Uint8Array.from(octets.subarray(0, last.start))
  const count = unsigned[10]! * 256 + unsigned[11]! - 1
  unsigned.set([originalId >> 8, originalId & 255], 0)
  unsigned.set([count >> 8, count & 255], 10)
  return { keyName: last.name, algorithm: nameOf(labels), timeSigned, fudge, mac, originalId, error, other, unsigned }
}

/** What is told of clocks apart by some seconds; more than 0 where the name server’s is ahead. */
function clocks(ahead: number, fudge: number): string {
  const seconds = Math.abs(ahead)
  const span = seconds < 120 ? `${seconds} seconds` : `${Math.round(seconds / 60).toLocaleString('en')} minutes`
  return (
    `The two clocks differ by ${span}: the name server’s is ${ahead > 0 ? 'ahead' : 'behind'}. Signatures are good ` +
    `for ${fudge} seconds (BADTIME); set the clock that is wrong.`
  )
}

const secondsOf = (octets: Uint8Array) => octets.reduce((sum, octet) => sum * 256 + octet, 0)

export type TsigVerdict =
  { ok: true; mac: Uint8Array } | { ok: false; error: 'BADSIG' | 'BADKEY' | 'BADTIME' | 'UNSIGNED'; sentence: string }

/**
 * Checks a message's signature (RFC 8945 §5.2). `priorMac` is the request's MAC for an answer, or the message before
 * in a transfer; `later` for all but the first of a transfer, with `between` the unsigned messages since (§5.3.1).
 */
export async function verify(
  octets: Uint8Array,
  key: TsigKey,
  now: number,
  priorMac?: Uint8Array,
  later?: { between: Uint8Array[] },
): Promise<TsigVerdict> {
  const tsig = readTsig(octets)
  if (!tsig) return { ok: false, error: 'UNSIGNED', sentence: 'The answer is not signed.' }
  if (tsig.keyName !== key.name || tsig.algorithm !== ALGORITHM)
    return {
      ok: false,
      error: 'BADKEY',
      sentence:
        `The message is signed with ${tsig.keyName} and ${tsig.algorithm}, not with ${key.name} and ` + `${ALGORITHM}.`,
    }
  if (tsig.error !== 0 && tsig.mac.length === 0)
    return {
      ok: false,
      error: (ERRORS[tsig.error] as 'BADSIG') ?? 'BADSIG',
      sentence: REFUSED_KEY[tsig.error] ?? `The name server refuses the key: error ${tsig.error}.`,
    }
  const expected = await hmac(key.secret, [
    ...chained(priorMac),
    ...(later?.between ?? []),
    tsig.unsigned,
    later ? timers(tsig) : variables(key.name, tsig),
  ])
  let difference = expected.length ^ tsig.mac.length
  for (let at = 0; at < expected.length; at++) difference |= expected[at]! ^ (tsig.mac[at] ?? 0)
  if (difference !== 0)
    return { ok: false, error: 'BADSIG', sentence: 'The signature does not fit: the secret is another.' }
  // The server’s own clock comes along (RFC 8945 §5.2.3).
  if (tsig.error === TSIG_ERROR.BADTIME && tsig.other.length === 6)
    return { ok: false, error: 'BADTIME', sentence: clocks(secondsOf(tsig.other) - tsig.timeSigned, tsig.fudge) }
  if (tsig.error !== 0)
    return {
      ok: false,
      error: (ERRORS[tsig.error] as 'BADTIME') ?? 'BADSIG',
      sentence: `The name server refuses the signature: ${ERRORS[tsig.error] ?? `error ${tsig.error}`}.`,
    }
  if (Math.abs(now - tsig.timeSigned) > tsig.fudge)
    return {
      ok: false,
      error: 'BADTIME',
      sentence: clocks(tsig.timeSigned - now, tsig.fudge),
    }
  return { ok: true, mac: tsig.mac }
}
