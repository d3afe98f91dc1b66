/** The kinds of fields a record's data is made of (core/dns/fields.ts). */
export type FieldName =
  | 'u8'
  | 'u16'
  | 'u32'
  | 'ttl'
  | 'name'
  | 'ipv4'
  | 'ipv6'
  | 'string'
  | 'strings'
  | 'tag'
  | 'rest'
  | 'hex'
  | 'base64'
  | 'parameters'
  | 'type'
  | 'types'
  | 'moment'
  | 'salt'
  | 'hash'
  | 'location'

/** What Fides knows of one record type. */
interface RecordType {
  /** IANA DNS Parameters, Resource Record TYPEs. */
  number: number
  /** The fields of its data, in order. */
  layout: readonly FieldName[]
  /** Which field names another host. */
  target?: number
  /** Senders may compress the names in its data (RFC 3597 §4 lists which; RFC 2782 had it for SRV). */
  compressed?: true
  /** Addresses of its target come along with an answer (RFC 1035 §4.1, RFC 2782). */
  bringsAddresses?: true
  /** Says where the web visitors of a name go. */
  points?: true
  /** Asked for at a name whose zone is only asked, and at the wildcard above it. */
  asked?: 'name' | 'name and wildcard'
  /** Kept by the zone's signer, not by a person (RFC 4034, RFC 5155). */
  signer?: true
  /** May stand beside a CNAME (RFC 4035 §2.5). */
  besideCname?: true
  /** Offered where somebody looks a name up. */
  lookedUp?: true
}

/**
 * Every record type Fides reads field by field, in the order people read a zone, with the document that defines it. The
 * wire, zone files, look-ups, what is asked for and the desk's choices all follow from it.
 */
const TYPES = {
  // RFC 1035 §3.3.13
  SOA: { number: 6, layout: ['name', 'name', 'u32', 'ttl', 'ttl', 'ttl', 'ttl'], compressed: true, lookedUp: true },
  // RFC 1035 §3.3.11
  NS: {
    number: 2,
    layout: ['name'],
    target: 0,
    compressed: true,
    bringsAddresses: true,
    asked: 'name',
    lookedUp: true,
  },
  // RFC 1035 §3.4.1
  A: { number: 1, layout: ['ipv4'], points: true, asked: 'name and wildcard', lookedUp: true },
  // RFC 3596 §2.2
  AAAA: { number: 28, layout: ['ipv6'], points: true, asked: 'name and wildcard', lookedUp: true },
  // RFC 1035 §3.3.1
  CNAME: {
    number: 5,
    layout: ['name'],
    target: 0,
    compressed: true,
    points: true,
    asked: 'name and wildcard',
    lookedUp: true,
  },
  // RFC 1035 §3.3.9
  MX: {
    number: 15,
    layout: ['u16', 'name'],
    target: 1,
    compressed: true,
    bringsAddresses: true,
    asked: 'name and wildcard',
    lookedUp: true,
  },
  // RFC 1035 §3.3.14
  TXT: { number: 16, layout: ['strings'], asked: 'name and wildcard', lookedUp: true },
  // RFC 8659 §4.1
  CAA: { number: 257, layout: ['u8', 'tag', 'rest'], asked: 'name', lookedUp: true },
  // RFC 2782
  SRV: {
    number: 33,
    layout: ['u16', 'u16', 'u16', 'name'],
    target: 3,
    compressed: true,
    bringsAddresses: true,
    asked: 'name',
    lookedUp: true,
  },
  // RFC 9460 §9
  HTTPS: { number: 65, layout: ['u16', 'name', 'parameters'], target: 1, points: true, asked: 'name' },
  // RFC 9460 §2.1
  SVCB: { number: 64, layout: ['u16', 'name', 'parameters'], target: 1, points: true },
  // RFC 1035 §3.3.12
  PTR: { number: 12, layout: ['name'], target: 0, compressed: true },
  // RFC 6672 §2.1
  DNAME: { number: 39, layout: ['name'], target: 0, compressed: true },
  // RFC 4034 §5.3
  DS: { number: 43, layout: ['u16', 'u8', 'u8', 'hex'] },
  // RFC 4034 §2.2
  DNSKEY: { number: 48, layout: ['u16', 'u8', 'u8', 'base64'], signer: true },
  // RFC 4034 §3.2
  RRSIG: {
    number: 46,
    layout: ['type', 'u8', 'u8', 'u32', 'moment', 'moment', 'u16', 'name', 'base64'],
    signer: true,
    besideCname: true,
  },
  // RFC 4034 §4.2
  NSEC: { number: 47, layout: ['name', 'types'], signer: true, besideCname: true },
  // RFC 5155 §3.3
  NSEC3: { number: 50, layout: ['u8', 'u8', 'u16', 'salt', 'hash', 'types'], signer: true },
  // RFC 5155 §4.3
  NSEC3PARAM: { number: 51, layout: ['u8', 'u8', 'u16', 'salt'], signer: true },
  // RFC 7344 §3.1
  CDS: { number: 59, layout: ['u16', 'u8', 'u8', 'hex'], signer: true },
  // RFC 7344 §3.2
  CDNSKEY: { number: 60, layout: ['u16', 'u8', 'u8', 'base64'], signer: true },
  // RFC 1876 §2
  LOC: { number: 29, layout: ['location'] },
  // RFC 3403 §4.1
  NAPTR: { number: 35, layout: ['u16', 'u16', 'string', 'string', 'string', 'name'] },
  // RFC 4255 §3.1
  SSHFP: { number: 44, layout: ['u8', 'u8', 'hex'] },
  // RFC 6698 §2.1
  TLSA: { number: 52, layout: ['u8', 'u8', 'u8', 'hex'] },
} as const satisfies Record<string, RecordType>

export type KnownType = keyof typeof TYPES
export const RECORD_TYPES: Readonly<Record<KnownType, RecordType>> = TYPES

const KNOWN = Object.keys(RECORD_TYPES) as KnownType[]

/** What is known of a type by its mnemonic; `undefined` for one that is not read field by field. */
export const recordType = (type: string): RecordType | undefined =>
  Object.hasOwn(RECORD_TYPES, type) ? RECORD_TYPES[type as KnownType] : undefined

/** The known types something holds of, in their order. */
export const typesWhere = (holds: (type: RecordType) => unknown): KnownType[] =>
  KNOWN.filter((type) => holds(RECORD_TYPES[type]))

/** A type's place among those people read first; types not known come last. */
export const typeRank = (type: string): number => {
  const rank = KNOWN.indexOf(type as KnownType)
  return rank === -1 ? KNOWN.length : rank
}
