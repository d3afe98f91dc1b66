import type { Reader } from './reader'
import { DataFault, type Token } from './token'

const FAULT = 'LOC needs a place like “38 42 0 N 9 8 0 W 100m 10m”'
/** Thousandths of a second of arc; the equator and the prime meridian lie at 2^31 (RFC 1876 §2). */
const MIDDLE = 2 ** 31
/** Altitudes are counted in centimetres from 100,000 m below the reference spheroid. */
const BELOW = 10_000_000

/**
 * Reads the data of a LOC record as RFC 1876 §3 writes it; throws `DataFault`. The parts left out take their usual
 * values.
 */
export function readLocation(tokens: readonly Token[]): string {
  const words = tokens.map((token) => token.text)
  const latitude = angle('N', 'S', 90)
  const longitude = angle('E', 'W', 180)
  const altitude = metres(words.shift(), -100_000, 42_849_672.95)
  if (altitude === undefined) throw new DataFault(FAULT)
  const [size, horizontal, vertical] = [1, 10_000, 10].map((usual) => {
    const word = words.shift()
    const given = metres(word, 0, 90_000_000)
    if (word !== undefined && given === undefined) throw new DataFault(FAULT)
    return lengthText(lengthOctet(Math.round((given ?? usual) * 100)))
  })
  if (words.length > 0) throw new DataFault(FAULT)
  return (
    `${angleText(latitude, 'N', 'S')} ${angleText(longitude, 'E', 'W')} ${altitude.toFixed(2)}m ${size} ` +
    `${horizontal} ${vertical}`
  )

  function angle(positive: string, negative: string, most: number): number {
    const end = words.findIndex((word) => [positive, negative].includes(word.toUpperCase()))
    if (end < 1 || end > 3) throw new DataFault(FAULT)
    const [degrees, minutes = 0, seconds = 0] = words.splice(0, end).map((word) => {
      if (!/^\d{1,3}(?:\.\d{1,3})?$/.test(word)) throw new DataFault(FAULT)
      return Number(word)
    })
    const way = words.shift()!.toUpperCase() === positive ? 1 : -1
    const whole = degrees! * 3_600_000 + minutes * 60_000 + Math.round(seconds * 1000)
    if (!Number.isInteger(degrees) || !Number.isInteger(minutes) || minutes > 59 || seconds >= 60)
      throw new DataFault(FAULT)
    if (whole > most * 3_600_000) throw new DataFault(FAULT)
    return way * whole
  }
}

function metres(word: string | undefined, least: number, most: number): number | undefined {
  if (word === undefined || !/^-?\d{1,8}(?:\.\d{1,2})?m?$/i.test(word)) return undefined
  const value = Number.parseFloat(word)
  return value >= least && value <= most ? value : undefined
}

function angleText(thousandths: number, positive: string, negative: string): string {
  const whole = Math.abs(thousandths)
  const seconds = ((whole % 60_000) / 1000).toFixed(3)
  const minutes = Math.floor(whole / 60_000)
  return `${Math.floor(minutes / 60)} ${minutes % 60} ${seconds} ${thousandths < 0 ? negative : positive}`
}

/** A length in centimetres as one digit and a power of ten, four bits each (RFC 1876 §2). */
function lengthOctet(centimetres: number): number {
  let power = 0
  let base = centimetres
  for (; base > 9; power++) base = Math.floor(base / 10)
  return (base << 4) | power
}
const lengthText = (octet: number) => {
  const centimetres = (octet >> 4) * 10 ** (octet & 15)
  return centimetres >= 100 ? `${Math.floor(centimetres / 100)}m` : `0.${String(centimetres).padStart(2, '0')}m`
}

/** How a LOC record's data travels, from its text in Fides's own form. */
export function encodeLocation(words: readonly string[]): Uint8Array {
  const angle = (from: number, negative: string) => {
    const [degrees, minutes, seconds] = words.slice(from, from + 3).map(Number)
    const whole = Math.round((degrees! * 3600 + minutes! * 60 + seconds!) * 1000)
    return MIDDLE + (words[from + 3] === negative ? -whole : whole)
  }
  const lengths = words.slice(9, 12).map((word) => lengthOctet(Math.round(Number.parseFloat(word) * 100)))
  const octets = new Uint8Array(16)
  const view = new DataView(octets.buffer)
  octets.set([0, ...lengths])
  view.setUint32(4, angle(0, 'S'))
  view.setUint32(8, angle(4, 'W'))
  view.setUint32(12, BELOW + Math.round(Number.parseFloat(words[8]!) * 100))
  return octets
}

/** The text of a LOC record's data from how it travels; versions other than 0 are not defined. */
export function decodeLocation(reader: Reader): string {
  if (reader.number(1) !== 0) throw new DataFault('LOC is of a version that is not defined')
  const [size, horizontal, vertical] = [1, 1, 1].map((length) => lengthText(reader.number(length)))
  const latitude = angleText(reader.number(4) - MIDDLE, 'N', 'S')
  const longitude = angleText(reader.number(4) - MIDDLE, 'E', 'W')
  const altitude = ((reader.number(4) - BELOW) / 100).toFixed(2)
  return `${latitude} ${longitude} ${altitude}m ${size} ${horizontal} ${vertical}`
}
