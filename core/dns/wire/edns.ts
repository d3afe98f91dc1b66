import type { Placed } from './walk'

/**
 * The answer size asked for by EDNS (RFC 6891); 1232 octets fit every path (common practice since the DNS flag day of
 * 2020).
 */
export const EDNS_SIZE = 1232

/** One extended error of an answer (RFC 8914 §2): its code by the IANA registry and the server's own words. */
export interface ExtendedError {
  code: number
  text: string
}

/** What a message's OPT record says. */
export interface Edns {
  size: number
  /** The upper eight bits of the response code (RFC 6891 §6.1.3). */
  extendedRcode: number
  wantsSignatures: boolean
  extendedErrors: ExtendedError[]
}

const OPT = 41
const DO_BIT = 0x8000
const EXTENDED_ERROR = 15

/** Writes an OPT record (RFC 6891 §6.1.2) with the size its sender takes and the DO bit (RFC 3225 §3). */
export const encodeEdns = (size: number, wantsSignatures: boolean): Uint8Array =>
  Uint8Array.from([0, 0, OPT, size >> 8, size & 255, 0, 0, wantsSignatures ? DO_BIT >> 8 : 0, 0, 0, 0])

/** Reads an OPT record: its fixed part stands in class and TTL, its options in the data. */
export function readEdns(record: Placed, data: Uint8Array): Edns {
  const extendedErrors: ExtendedError[] = []
  const sixteen = (at: number) => (data[at]! << 8) | data[at + 1]!
  for (let at = 0; at + 4 <= data.length; at += 4 + sixteen(at + 2)) {
    const end = at + 4 + sixteen(at + 2)
    if (sixteen(at) !== EXTENDED_ERROR || end < at + 6 || end > data.length) continue
    const text = new TextDecoder().decode(data.subarray(at + 6, end)).replace(/\0+$/, '')
    extendedErrors.push({ code: sixteen(at + 4), text: text.slice(0, 200) })
  }
  return {
    size: record.class,
    extendedRcode: (record.ttl >>> 24) & 255,
    wantsSignatures: (record.ttl & DO_BIT) !== 0,
    extendedErrors,
  }
}
