/** The record types Fides reads field by field, by their numbers (IANA DNS Parameters, Resource Record TYPEs). */
export const TYPE_NUMBERS = {
  A: 1,
  NS: 2,
  CNAME: 5,
  SOA: 6,
  PTR: 12,
  MX: 15,
  TXT: 16,
  AAAA: 28,
  SRV: 33,
  DNAME: 39,
  DS: 43,
  DNSKEY: 48,
  SVCB: 64,
  HTTPS: 65,
  CAA: 257,
} as const

/** Types whose data stays in the generic form but whose mnemonics are common enough to meet in files. */
const FURTHER: Record<string, number> = {
  HINFO: 13,
  RP: 17,
  AFSDB: 18,
  LOC: 29,
  NAPTR: 35,
  SSHFP: 44,
  RRSIG: 46,
  NSEC: 47,
  NSEC3: 50,
  NSEC3PARAM: 51,
  TLSA: 52,
  SMIMEA: 53,
  CDS: 59,
  CDNSKEY: 60,
  OPENPGPKEY: 61,
  CSYNC: 62,
  ZONEMD: 63,
  SPF: 99,
  URI: 256,
}
const NUMBERS: Record<string, number> = { ...FURTHER, ...TYPE_NUMBERS }
const NAMES = new Map(Object.entries(NUMBERS).map(([name, number]) => [number, name]))

/** The number of a type's mnemonic or `TYPEn` (RFC 3597 §5); `undefined` for what is no type. */
export function typeNumber(type: string): number | undefined {
  const known = NUMBERS[type]
  if (known !== undefined) return known
  const generic = /^TYPE(\d{1,5})$/.exec(type)
  return generic && Number(generic[1]) <= 65_535 ? Number(generic[1]) : undefined
}

/** The mnemonic of a type's number, or `TYPEn` (RFC 3597 §5). */
export const typeName = (number: number): string => NAMES.get(number) ?? `TYPE${number}`

/** Reads a type as typed; `TYPE1` becomes `A`. */
export function readType(text: string): string | undefined {
  const number = typeNumber(text.toUpperCase())
  return number === undefined ? undefined : typeName(number)
}
