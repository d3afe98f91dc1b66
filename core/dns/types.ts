import { RECORD_TYPES } from './record-types'

/** Types whose data stays in the generic form but whose mnemonics are common enough to meet in files. */
const FURTHER: Record<string, number> = {
  HINFO: 13,
  RP: 17,
  AFSDB: 18,
  SMIMEA: 53,
  OPENPGPKEY: 61,
  CSYNC: 62,
  ZONEMD: 63,
  SPF: 99,
  URI: 256,
}
const NUMBERS: Record<string, number> = {
  ...FURTHER,
  ...Object.fromEntries(Object.entries(RECORD_TYPES).map(([type, { number }]) => [type, number])),
}
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
