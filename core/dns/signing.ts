import { encodeData } from './data'
import { encodeName } from './fields'
import { dataWords, type DnsRecord } from './record'
import { readMoment } from './signing-fields'

/** The tag a key is spoken of by (RFC 4034 appendix B), of a DNSKEY record's data. */
export function keyTag(key: DnsRecord): number {
  let sum = 0
  for (const [place, octet] of encodeData('DNSKEY', key.data).entries()) sum += place & 1 ? octet : octet << 8
  return (sum + ((sum >> 16) & 0xffff)) & 0xffff
}

/** Digest types of DS records that validators know (RFC 4034 §A.2, RFC 4509, RFC 6605). */
const DIGESTS: Readonly<Record<number, string>> = { 1: 'SHA-1', 2: 'SHA-256', 4: 'SHA-384' }
/** Algorithms validators implement (RFC 8624 §3.1). */
const ALGORITHMS = new Set([5, 7, 8, 10, 13, 14, 15, 16])

/** What a DS record says of a key (RFC 4034 §5.1). */
export function readDs(ds: DnsRecord): { tag: number; algorithm: number; digestType: number; digest: string } {
  const [tag, algorithm, digestType, digest] = dataWords(ds)
  return { tag: Number(tag), algorithm: Number(algorithm), digestType: Number(digestType), digest: digest! }
}

/** Whether validators can follow a DS record; a zone with none they can follow counts as unsigned (RFC 4035 §5.2). */
export const dsIsUsable = (ds: DnsRecord): boolean => {
  const { algorithm, digestType } = readDs(ds)
  return digestType in DIGESTS && ALGORITHMS.has(algorithm)
}

/** Whether a DS record at the parent is of this DNSKEY of the zone: by tag, algorithm and digest (RFC 4034 §5.1.4). */
export async function dsMatches(ds: DnsRecord, key: DnsRecord): Promise<boolean> {
  const { tag, algorithm, digestType, digest } = readDs(ds)
  if (!(digestType in DIGESTS) || tag !== keyTag(key) || algorithm !== Number(dataWords(key)[2])) return false
  const octets = Uint8Array.from([...encodeName(key.name), ...encodeData('DNSKEY', key.data)])
  const made = new Uint8Array(await crypto.subtle.digest(DIGESTS[digestType]!, octets))
  return [...made].map((octet) => octet.toString(16).padStart(2, '0')).join('') === digest
}

/** What an RRSIG record says (RFC 4034 §3.1); moments in milliseconds. */
export function readSignature(record: DnsRecord): { covers: string; begins: number; ends: number; tag: number } {
  const [covers, , , , ends, begins, tag] = dataWords(record)
  return { covers: covers!, begins: readMoment(begins!) * 1000, ends: readMoment(ends!) * 1000, tag: Number(tag) }
}
