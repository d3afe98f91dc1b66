import { randomInt } from 'node:crypto'
import { isAtOrBelow, type DnsName, type DnsRecord } from '../../core/dns'
import {
  decodeMessage,
  encodeMessage,
  message,
  plainRecord,
  question,
  readTsig,
  sign,
  verify,
  type TsigKey,
} from '../../core/dns/wire'
import { exchange, type ServerAddress } from './ask'

export type Transferred = { ok: true; records: DnsRecord[] } | { ok: false; sentence: string }

/** Without anything for so long, a server is given up. */
const TIMEOUT_MS = 10_000
/** A zone larger than this is not taken whole, nor one that takes longer. */
const MAX_RECORDS = 200_000
const MAX_OCTETS = 32_000_000
const MAX_MS = 60_000

export interface TransferLimits {
  octets: number
  milliseconds: number
}

/**
 * Takes a whole zone from a name server (AXFR, RFC 5936), signed where a key is given: the records between the two
 * SOA records (§2.2), each once. Never rejects.
 */
export async function transferZone(
  server: ServerAddress,
  origin: DnsName,
  key?: TsigKey,
  limits: TransferLimits = { octets: MAX_OCTETS, milliseconds: MAX_MS },
): Promise<Transferred> {
  const at = `${server.host} port ${server.port}`
  const began = performance.now()
  let taken = 0
  const id = randomInt(65_536)
  let sent = encodeMessage(message(id, { questions: [question(origin, 'AXFR')] }))
  let mac: Uint8Array | undefined
  if (key) ({ octets: sent, mac } = await sign(sent, key, Math.floor(Date.now() / 1000)))
  const records: DnsRecord[] = []
  let between: Uint8Array[] = []
  let first = true
  try {
    for await (const octets of exchange(server, sent, TIMEOUT_MS, limits.milliseconds)) {
      taken += octets.length
      if (taken > limits.octets)
        return {
          ok: false,
          sentence: `${at} sent over ${limits.octets / 1e6} MB; that is more than Fides takes. ${PASTE}`,
        }
      const answer = decodeMessage(octets)
      if (answer.id !== id || !answer.response) continue
      if (key) {
        if (readTsig(octets)) {
          const verdict = await verify(octets, key, Math.floor(Date.now() / 1000), mac, first ? undefined : { between })
          if (!verdict.ok) return { ok: false, sentence: `${at}: ${verdict.sentence}` }
          mac = verdict.mac
          between = []
        } else if (first)
          return {
            ok: false,
            sentence:
              `${at} answered ${answer.rcode} without a signature; it may not know the key ` +
              `${key.name.slice(0, -1)}.`,
          }
        else between.push(octets)
      }
      if (answer.rcode !== 'NOERROR') return { ok: false, sentence: refusal(at, origin, answer.rcode) }
      first = false
      for (const record of answer.answer) {
        if (records.length === 0 && record.type !== 'SOA')
          return { ok: false, sentence: `${at} began the transfer with ${record.type} instead of SOA.` }
        if (records.length > 0 && record.type === 'SOA' && record.name === origin) {
          if (between.length > 0) return { ok: false, sentence: `${at} ended the transfer without a signature.` }
          return { ok: true, records }
        }
        if (isAtOrBelow(record.name, origin)) records.push(plainRecord(record))
        if (records.length > MAX_RECORDS)
          return {
            ok: false,
            sentence:
              `The zone at ${at} has over ${MAX_RECORDS.toLocaleString('en')} records; that is more than ` +
              'Fides takes.',
          }
      }
    }
    return { ok: false, sentence: `${at} ended the transfer of ${origin.slice(0, -1)} before it was whole.` }
  } catch (error) {
    if (performance.now() - began >= limits.milliseconds)
      return {
        ok: false,
        sentence: `${at} was not done after ${limits.milliseconds / 1000} s, and the transfer was given up. ${PASTE}`,
      }
    return {
      ok: false,
      sentence: `${at} did not hand the zone over: ${(error as Error).message || 'it does not answer over TCP'}.`,
    }
  }
}

const PASTE = 'Paste the zone file, or the part around the domain’s name.'

const refusal = (at: string, origin: DnsName, rcode: string) =>
  rcode === 'REFUSED' || rcode === 'NOTAUTH'
    ? `${at} refuses to hand over the zone ${origin.slice(0, -1)} (${rcode}). Allow the transfer there, or ` +
      'paste the zone file.'
    : `${at} answered ${rcode} to the transfer of ${origin.slice(0, -1)}.`
