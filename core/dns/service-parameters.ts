import ipaddr from 'ipaddr.js'
import { octetsOf, textOf, unescapeString } from './text'
import { DataFault, type Token } from './token'
import type { Reader } from './reader'

/** Service parameter keys (RFC 9460 §14.3.2). */
const KEYS = ['mandatory', 'alpn', 'no-default-alpn', 'port', 'ipv4hint', 'ech', 'ipv6hint']
const keyNumber = (key: string) => {
  const known = KEYS.indexOf(key)
  return known >= 0 ? known : Number(/^key(\d{1,5})$/.exec(key)?.[1] ?? Number.NaN)
}
const keyName = (number: number) => KEYS[number] ?? `key${number}`
const two = (value: number) => [value >> 8, value & 255]

/** A comma-separated list with `\,` and `\\` for commas and backslashes within (RFC 9460 appendix A.1). */
const splitList = (value: string) => value.split(/(?<!\\),/).map((item) => item.replace(/\\([,\\])/g, '$1'))
const printable = (octets: string) =>
  octets.replace(/[^!#-[\]-~ ]/g, (character) =>
    character === '"' || character === '\\'
      ? '\\' + character
      : '\\' + String(character.charCodeAt(0)).padStart(3, '0'),
  )

/** Octets of one parameter's value, from its text. */
function valueOctets(number: number, value: string): number[] {
  if (number === 0) return splitList(value).flatMap((key) => two(keyNumber(key)))
  if (number === 1) return splitList(value).flatMap((protocol) => [protocol.length, ...octetsOf(protocol)])
  if (number === 3) return two(Number(value))
  if (number === 4) return value.split(',').flatMap((address) => ipaddr.IPv4.parse(address).toByteArray())
  if (number === 5) return [...octetsOf(atob(value))]
  if (number === 6) return value.split(',').flatMap((address) => ipaddr.IPv6.parse(address).toByteArray())
  return [...octetsOf(value)]
}

/** Text of one parameter's value, from its octets. */
function valueText(number: number, octets: Uint8Array): string {
  const chunks = (size: number) =>
    Array.from({ length: octets.length / size }, (_, index) => [...octets.subarray(index * size, (index + 1) * size)])
  if (number === 0)
    return chunks(2)
      .map(([high, low]) => keyName(high! * 256 + low!))
      .join(',')
  if (number === 1) {
    const names: string[] = []
    for (let at = 0; at < octets.length; at += octets[at]! + 1)
      names.push(textOf(octets.subarray(at + 1, at + 1 + octets[at]!)).replace(/[,\\]/g, '\\$&'))
    return names.join(',')
  }
  if (number === 3) return String(octets[0]! * 256 + octets[1]!)
  if (number === 4)
    return chunks(4)
      .map((address) => address.join('.'))
      .join(',')
  if (number === 5) return btoa(textOf(octets))
  if (number === 6)
    return chunks(16)
      .map((address) => (ipaddr.fromByteArray(address) as ipaddr.IPv6).toRFC5952String())
      .join(',')
  return textOf(octets)
}

const write = (number: number, octets: Uint8Array) =>
  octets.length === 0 ? keyName(number) : `${keyName(number)}="${printable(valueText(number, octets))}"`

/** Reads `key=value` words of SVCB and HTTPS records into order of their numbers (RFC 9460 §2.1). */
export function readParameters(tokens: readonly Token[]): string {
  const found = new Map<number, Uint8Array>()
  for (const { text } of tokens) {
    const [, key = '', , value = ''] = /^([^=]*)(=([\s\S]*))?$/.exec(text) ?? []
    const number = keyNumber(key.toLowerCase())
    if (!Number.isInteger(number) || number > 65_534)
      throw new DataFault(`“${key.slice(0, 40)}” is no service parameter`)
    if (found.has(number)) throw new DataFault(`the service parameter ${key} stands twice`)
    try {
      found.set(number, Uint8Array.from(valueOctets(number, unescapeString(value.replace(/^"([\s\S]*)"$/, '$1')))))
    } catch {
      throw new DataFault(`the service parameter ${key} cannot hold “${value.slice(0, 40)}”`)
    }
  }
  return [...found]
    .sort(([a], [b]) => a - b)
    .map(([number, octets]) => write(number, octets))
    .join(' ')
}

export function encodeParameters(words: readonly string[]): Uint8Array {
  return Uint8Array.from(
    words.flatMap((word) => {
      const [, key = '', , value = ''] = /^([^=]*)(=([\s\S]*))?$/.exec(word) ?? []
      const octets = valueOctets(keyNumber(key), unescapeString(value.replace(/^"([\s\S]*)"$/, '$1')))
      return [...two(keyNumber(key)), ...two(octets.length), ...(value === '' ? [] : octets)]
    }),
  )
}

export function decodeParameters(reader: Reader): string {
  const words: string[] = []
  while (!reader.done) {
    const number = reader.number(2)
    words.push(write(number, reader.take(reader.number(2))))
  }
  return words.join(' ')
}
