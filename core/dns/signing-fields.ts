import type { FieldKind } from './field-kind'
import { DataFault } from './token'
import { readType, typeName, typeNumber } from './types'

/** A type by its mnemonic (RFC 4034 §3.2). */
export const typeField: FieldKind = {
  takes: 'one',
  read([token]) {
    const type = readType(token!.text)
    if (type === undefined) throw new DataFault(`“${token!.text.slice(0, 40)}” is no record type`)
    return type
  },
  encode: ([word]) => Uint8Array.from([typeNumber(word!)! >> 8, typeNumber(word!)! & 255]),
  decode: (reader) => typeName(reader.number(2)),
}

/** The types at a name, as a bit map by windows of 256 (RFC 4034 §4.1.2). */
export const typesField: FieldKind = {
  takes: 'any',
  read: (tokens, origin) => tokens.map((token) => typeField.read([token], origin)).join(' '),
  encode(words) {
    const windows = new Map<number, Uint8Array>()
    for (const number of words.map((word) => typeNumber(word)!)) {
      const bits = windows.get(number >> 8) ?? new Uint8Array(32)
      bits[(number & 255) >> 3]! |= 0x80 >> (number & 7)
      windows.set(number >> 8, bits)
    }
    return Uint8Array.from(
      [...windows]
        .sort(([a], [b]) => a - b)
        .flatMap(([window, bits]) => {
          const length = bits.findLastIndex((octet) => octet !== 0) + 1
          return [window, length, ...bits.subarray(0, length)]
        }),
    )
  },
  decode(reader) {
    const types: string[] = []
    while (!reader.done) {
      const window = reader.number(1)
      for (const [place, octet] of reader.take(reader.number(1)).entries())
        for (let bit = 0; bit < 8; bit++)
          if (octet & (0x80 >> bit)) types.push(typeName(window * 256 + place * 8 + bit))
    }
    return types.join(' ')
  },
}

/** A moment as YYYYMMDDHHmmSS or in seconds since 1970 (RFC 4034 §3.2). */
export const momentField: FieldKind = {
  takes: 'one',
  read([token]) {
    const parts = /^(\d{4})(\d\d)(\d\d)(\d\d)(\d\d)(\d\d)$/.exec(token!.text)
    if (parts) return token!.text
    if (!/^\d{1,10}$/.test(token!.text))
      throw new DataFault(`“${token!.text.slice(0, 40)}” must be a moment like 20260131120000`)
    return momentText(Number(token!.text))
  },
  encode([word]) {
    const seconds = readMoment(word!)
    return Uint8Array.from([24, 16, 8, 0], (shift) => (seconds >>> shift) & 255)
  },
  decode: (reader) => momentText(reader.number(4)),
}

const momentText = (seconds: number) =>
  new Date(seconds * 1000)
    .toISOString()
    .replace(/\.\d+Z$/, '')
    .replace(/\D/g, '')

/** A moment of a signature, YYYYMMDDHHmmSS, in seconds since 1970. */
export const readMoment = (text: string): number =>
  Date.parse(text.replace(/^(\d{4})(\d\d)(\d\d)(\d\d)(\d\d)(\d\d)$/, '$1-$2-$3T$4:$5:$6Z')) / 1000

/** A salt in hexadecimal with its length before it, `-` for none (RFC 5155 §3.3). */
export const saltField: FieldKind = {
  takes: 'one',
  read([token]) {
    if (token!.text !== '-' && !/^(?:[0-9a-f]{2}){1,255}$/i.test(token!.text))
      throw new DataFault('the salt must be hexadecimal digits in pairs, or - for none')
    return token!.text.toLowerCase()
  },
  encode([word]) {
    const octets = word === '-' ? [] : word!.match(/../g)!.map((pair) => parseInt(pair, 16))
    return Uint8Array.from([octets.length, ...octets])
  },
  decode(reader) {
    const octets = reader.take(reader.number(1))
    return octets.length === 0 ? '-' : [...octets].map((octet) => octet.toString(16).padStart(2, '0')).join('')
  },
}

const DIGITS = '0123456789abcdefghijklmnopqrstuv'

/** A hash in base32 with the extended hex alphabet, without padding (RFC 5155 §3.3, RFC 4648 §7). */
export const hashField: FieldKind = {
  takes: 'one',
  read([token]) {
    if (!/^[0-9a-v]+$/i.test(token!.text)) throw new DataFault('the hash must be base32 (RFC 4648 §7)')
    return token!.text.toLowerCase()
  },
  encode([word]) {
    const bits = [...word!].map((digit) => DIGITS.indexOf(digit).toString(2).padStart(5, '0')).join('')
    const octets = bits.match(/.{8}/g)!.map((octet) => parseInt(octet, 2))
    return Uint8Array.from([octets.length, ...octets])
  },
  decode(reader) {
    const octets = reader.take(reader.number(1))
    const bits = [...octets].map((octet) => octet.toString(2).padStart(8, '0')).join('')
    return (bits.match(/.{1,5}/g) ?? []).map((five) => DIGITS[parseInt(five.padEnd(5, '0'), 2)]).join('')
  },
}
