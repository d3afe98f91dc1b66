import { plainLetters } from './words'
import { COSTS, type Reason } from './costs'

/** One way to read what was typed, before letters are compared. */
export interface Reading {
  /** Small letters, without accents. */
  plain: string
  /** What reading it so costs. */
  cost: number
  reason: Reason | null
}

const UTF8 = new TextDecoder('utf-8', { fatal: true })

function decoded(text: string): string | undefined {
  try {
    return decodeURIComponent(text)
  } catch {
    return undefined
  }
}

/** A text whose UTF-8 was taken for Latin-1 once, put right; `undefined` where it was not. */
function unmangled(text: string): string | undefined {
  if (!/[\u00c2-\u00f4][\u0080-\u00bf]/.test(text) || /[\u0100-\uffff]/.test(text)) return undefined
  try {
    return UTF8.decode(Uint8Array.from(text, (one) => one.charCodeAt(0)))
  } catch {
    return undefined
  }
}

/** Escapes as they stand after a percent sign was lost or escaped once more. */
const BROKEN_ESCAPE = /%25([0-9a-f]{2})|%(?![0-9a-f]{2})/gi

/** What text puts behind an address, as it is or escaped. */
const PUNCTUATION = /(?:[.,;:!?)\]}>'"*&\u2019\u201d\u00bb\u2026]|%2[0127c9]|%3[abef]|%5d|%7d)+$/

/**
 * How an address may be read: as it came, without punctuation behind it, and with the accidents of percent-encoding
 * taken back (escaped twice, its UTF-8 taken for Latin-1, `+` for a space). The first is as it came.
 */
export function readingsOf(canonical: string): Reading[] {
  const typed = plainLetters(canonical)
  const readings: Reading[] = [{ plain: typed, cost: 0, reason: null }]
  const bare = typed.replace(PUNCTUATION, '')
  if (bare !== typed && bare !== '') {
    const cost = COSTS.punctuation + COSTS.punctuationEach * (typed.length - bare.length)
    readings.push({ plain: bare, cost, reason: 'punctuation' })
  }
  if (!/[%+\u0080-\uffff]/.test(canonical)) return readings
  const add = (text: string | undefined) => {
    if (text === undefined) return
    const plain = plainLetters(text).trim()
    if (plain !== '' && !readings.some((reading) => reading.plain === plain))
      readings.push({ plain, cost: COSTS.escapes, reason: 'escapes' })
  }
  const once = decoded(canonical.replace(BROKEN_ESCAPE, (found, hex?: string) => (hex ? '%' + hex : '%25')))
  add(once)
  if (once !== undefined) {
    add(decoded(once))
    add(unmangled(once))
    add(once.replaceAll('+', '-'))
  }
  add(unmangled(canonical))
  return readings
}
