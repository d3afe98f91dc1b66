import ipaddr from 'ipaddr.js'
import { labelsOf, nameOf, readName, type DnsName } from './name'
import { decodeParameters, encodeParameters, readParameters } from './service-parameters'
import type { FieldKind } from './field-kind'
import { decodeLocation, encodeLocation, readLocation } from './location'
import type { FieldName } from './record-types'
import { hashField, momentField, saltField, typeField, typesField } from './signing-fields'
import { octetsOf, quoteString, textOf, unescapeString } from './text'
import { DataFault, type Token } from './token'
import { readTtl } from './ttl'

function integer(size: 1 | 2 | 4): FieldKind {
  const most = 2 ** (8 * size) - 1
  return {
    takes: 'one',
    read([token]) {
      if (!/^\d{1,10}$/.test(token!.text) || Number(token!.text) > most)
        throw new DataFault(`“${token!.text.slice(0, 40)}” must be a whole number from 0 to ${most}`)
      return String(Number(token!.text))
    },
    encode: ([word]) => bigEndian(Number(word), size),
    decode: (reader) => String(reader.number(size)),
  }
}

const bigEndian = (value: number, size: number) =>
  Uint8Array.from({ length: size }, (_, index) => Math.floor(value / 256 ** (size - 1 - index)) & 255)

const seconds: FieldKind = {
  ...integer(4),
  read([token]) {
    const ttl = readTtl(token!.text)
    if (ttl === undefined)
      throw new DataFault(`“${token!.text.slice(0, 40)}” must be a number of seconds, or a time like 1h30m`)
    return String(ttl)
  },
}

const name: FieldKind = {
  takes: 'one',
  read([token], origin) {
    const reading = readName(token!.text, origin)
    if (!reading.ok) throw new DataFault(reading.sentence)
    return reading.name
  },
  encode: ([word]) => encodeName(word!),
  decode(reader) {
    const labels: string[] = []
    for (let length = reader.number(1); length > 0; length = reader.number(1)) {
      if (length > 63) throw new DataFault('a name within the data is compressed')
      labels.push(textOf(reader.take(length)))
    }
    return nameOf(labels)
  },
}

/** A name as it travels, uncompressed (RFC 1035 §3.1). */
export function encodeName(text: DnsName): Uint8Array {
  const octets: number[] = []
  for (const label of labelsOf(text)) octets.push(label.length, ...octetsOf(label))
  return Uint8Array.from([...octets, 0])
}

const ipv4: FieldKind = {
  takes: 'one',
  read([token]) {
    if (!ipaddr.IPv4.isValidFourPartDecimal(token!.text))
      throw new DataFault(`“${token!.text.slice(0, 40)}” is not an IPv4 address like 192.0.2.1`)
    return ipaddr.IPv4.parse(token!.text).toString()
  },
  encode: ([word]) => Uint8Array.from(ipaddr.IPv4.parse(word!).toByteArray()),
  decode: (reader) => reader.take(4).join('.'),
}

const ipv6: FieldKind = {
  takes: 'one',
  read([token]) {
    if (!ipaddr.IPv6.isValid(token!.text) || token!.text.includes('%'))
      throw new DataFault(`“${token!.text.slice(0, 60)}” is not an IPv6 address like 2001:db8::1`)
    return ipaddr.IPv6.parse(token!.text).toRFC5952String()
  },
  encode: ([word]) => Uint8Array.from(ipaddr.IPv6.parse(word!).toByteArray()),
  decode: (reader) => (ipaddr.fromByteArray([...reader.take(16)]) as ipaddr.IPv6).toRFC5952String(),
}

function oneString(token: Token): string {
  const octets = unescapeString(token.text)
  if (octets.length > 255)
    throw new DataFault(
      `a string has ${octets.length} bytes; one string can have at most 255, a longer text is written as several`,
    )
  return quoteString(octets)
}
const bare = (word: string) => unescapeString(word.replace(/^"([\s\S]*)"$/, '$1'))

const strings: FieldKind = {
  takes: 'some',
  read: (tokens) => tokens.map(oneString).join(' '),
  encode: (words) => Uint8Array.from(words.flatMap((word) => [bare(word).length, ...octetsOf(bare(word))])),
  decode(reader) {
    const texts: string[] = []
    do texts.push(quoteString(textOf(reader.take(reader.number(1)))))
    while (!reader.done)
    return texts.join(' ')
  },
}

/** One string with its length before it. */
const string: FieldKind = {
  takes: 'one',
  read: ([token]) => oneString(token!),
  encode: strings.encode,
  decode: (reader) => quoteString(textOf(reader.take(reader.number(1)))),
}

const tag: FieldKind = {
  takes: 'one',
  read([token]) {
    if (!/^[a-z0-9]{1,15}$/i.test(token!.text))
      throw new DataFault(`“${token!.text.slice(0, 40)}” must be a tag of letters and digits, like issue`)
    return token!.text.toLowerCase()
  },
  encode: ([word]) => Uint8Array.from([word!.length, ...octetsOf(word!)]),
  decode: (reader) => textOf(reader.take(reader.number(1))).toLowerCase(),
}

/** The rest of the data as one string without a length before it (RFC 8659 §4.1). */
const rest: FieldKind = {
  takes: 'one',
  read: ([token]) => quoteString(unescapeString(token!.text)),
  encode: ([word]) => octetsOf(bare(word!)),
  decode: (reader) => quoteString(textOf(reader.rest())),
}

const hex: FieldKind = {
  takes: 'some',
  read(tokens) {
    const digits = tokens.map((token) => token.text).join('')
    if (!/^(?:[0-9a-f]{2})+$/i.test(digits)) throw new DataFault('the digest must be hexadecimal digits in pairs')
    return digits.toLowerCase()
  },
  encode: (words) => Uint8Array.from(words.join('').match(/../g) ?? [], (pair) => parseInt(pair, 16)),
  decode: (reader) => [...reader.rest()].map((octet) => octet.toString(16).padStart(2, '0')).join(''),
}

const base64: FieldKind = {
  takes: 'some',
  read(tokens) {
    const text = tokens.map((token) => token.text).join('')
    if (!/^(?:[A-Za-z0-9+/]{4})*(?:[A-Za-z0-9+/]{2}==|[A-Za-z0-9+/]{3}=)?$/.test(text))
      throw new DataFault('the key must be base64')
    return text
  },
  encode: (words) => octetsOf(atob(words.join(''))),
  decode: (reader) => btoa(textOf(reader.rest())),
}

const parameters: FieldKind = {
  takes: 'any',
  read: readParameters,
  encode: encodeParameters,
  decode: (reader) => decodeParameters(reader),
}

const location: FieldKind = {
  takes: 'some',
  read: readLocation,
  encode: encodeLocation,
  decode: decodeLocation,
}

export const FIELD_KINDS: Readonly<Record<FieldName, FieldKind>> = {
  u8: integer(1),
  u16: integer(2),
  u32: integer(4),
  ttl: seconds,
  name,
  ipv4,
  ipv6,
  string,
  strings,
  tag,
  rest,
  hex,
  base64,
  parameters,
  type: typeField,
  types: typesField,
  moment: momentField,
  salt: saltField,
  hash: hashField,
  location,
}
