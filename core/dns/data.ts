import type { FieldKind } from './field-kind'
import { FIELD_KINDS } from './fields'
import { Reader } from './reader'
import { recordType, type FieldName } from './record-types'
import { DataFault, type Token } from './token'
import { splitData } from './text'
import { typeNumber } from './types'
import type { DnsName } from './name'

const layoutOf = (type: string) => recordType(type)?.layout
const kind = (field: FieldName): FieldKind => FIELD_KINDS[field]

/**
 * Reads a record's data from a master file's tokens into Fides's own form: absolute lower-case names, addresses in
 * their standard text, strings quoted. A type without a layout must come in the generic form of RFC 3597 §5, or is
 * kept as its words stand. Throws `DataFault`, whose message is a part of a sentence.
 */
export function readData(type: string, tokens: readonly Token[], origin: DnsName): string {
  if (tokens[0]?.text === '\\#' && !tokens[0].quoted) return readGeneric(type, tokens)
  const layout = layoutOf(type)
  if (!layout) {
    if (/^TYPE\d+$/.test(type))
      throw new DataFault(`${type} has no text form; enter its data as “\\# length hex” (RFC 3597)`)
    if (tokens.length === 0) throw new DataFault(`${type} needs data`)
    return tokens.map((token) => (token.quoted ? `"${token.text}"` : token.text)).join(' ')
  }
  const pieces: string[] = []
  let at = 0
  for (const field of layout) {
    const { takes, read } = kind(field)
    const taken = takes === 'one' ? tokens.slice(at, at + 1) : tokens.slice(at)
    if (taken.length === 0 && takes !== 'any')
      throw new DataFault(
        `${type} needs ${layout.length === 1 ? 'data' : `${layout.length} fields`}, and has ${tokens.length}`,
      )
    pieces.push(read(taken, origin))
    at += taken.length
  }
  if (at < tokens.length) throw new DataFault(`${type} has more than it can hold: “${tokens[at]!.text.slice(0, 40)}”`)
  return pieces.filter((piece) => piece !== '').join(' ')
}

function readGeneric(type: string, tokens: readonly Token[]): string {
  const length = Number(tokens[1]?.text)
  const hex = tokens
    .slice(2)
    .map((token) => token.text)
    .join('')
  if (!Number.isInteger(length) || !/^(?:[0-9a-f]{2})*$/i.test(hex) || hex.length !== length * 2)
    throw new DataFault(
      `${type} in the generic form needs “\\# length hex”, with as many bytes as its length says (RFC 3597 §5)`,
    )
  return decodeData(
    type,
    Uint8Array.from({ length }, (_, index) => parseInt(hex.slice(index * 2, index * 2 + 2), 16)),
  )
}

/** A record's data as it travels, without compression; throws where a type is kept in words only. */
export function encodeData(type: string, data: string): Uint8Array {
  const words = splitData(data)
  if (words[0] === '\\#') {
    const hex = words.slice(2).join('')
    return Uint8Array.from({ length: hex.length / 2 }, (_, index) => parseInt(hex.slice(index * 2, index * 2 + 2), 16))
  }
  const layout = layoutOf(type)
  if (!layout) throw new DataFault(`${type} ${typeNumber(type) ?? ''} can be kept but not sent`)
  const pieces: Uint8Array[] = []
  let at = 0
  for (const field of layout) {
    const { takes, encode } = kind(field)
    const taken = takes === 'one' ? words.slice(at, at + 1) : words.slice(at)
    pieces.push(encode(taken))
    at += taken.length
  }
  const whole = new Uint8Array(pieces.reduce((sum, piece) => sum + piece.length, 0))
  let end = 0
  for (const piece of pieces) {
    whole.set(piece, end)
    end += piece.length
  }
  return whole
}

/**
 * A record's data in Fides's own form, from how it travels; types without a layout in the generic form (RFC 3597 §5).
 */
export function decodeData(type: string, octets: Uint8Array): string {
  const layout = layoutOf(type)
  if (!layout)
    return ['\\#', octets.length, [...octets].map((octet) => octet.toString(16).padStart(2, '0')).join('')]
      .join(' ')
      .trim()
  const reader = new Reader(octets)
  const pieces = layout.map((field) => kind(field).decode(reader))
  if (!reader.done) throw new DataFault(`${type} has bytes left over`)
  return pieces.filter((piece) => piece !== '').join(' ')
}
