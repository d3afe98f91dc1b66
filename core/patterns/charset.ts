import { COMMON, FULL } from '../address/case-folding-data'

/** A set of characters: ranges of code points, ascending, neither touching nor overlapping. */
export type CharSet = readonly (readonly [low: number, high: number])[]

export const LAST = 0x10ffff

/** Makes a set of ranges in any order. */
export function charSet(ranges: Iterable<readonly [number, number]>): CharSet {
  const sorted = [...ranges].filter(([low, high]) => low <= high).sort((a, b) => a[0] - b[0])
  const merged: [number, number][] = []
  for (const [low, high] of sorted) {
    const last = merged.at(-1)
    if (last && low <= last[1] + 1) last[1] = Math.max(last[1], high)
    else merged.push([low, high])
  }
  return merged
}

export const ANY: CharSet = [[0, LAST]]
export const ofCharacters = (text: string): CharSet =>
  charSet(Array.from(text, (character) => [character.codePointAt(0)!, character.codePointAt(0)!]))
export const union = (...sets: readonly CharSet[]): CharSet => charSet(sets.flat())

export function negate(set: CharSet): CharSet {
  const ranges: [number, number][] = []
  let from = 0
  for (const [low, high] of set) {
    if (low > from) ranges.push([from, low - 1])
    from = high + 1
  }
  if (from <= LAST) ranges.push([from, LAST])
  return ranges
}

export function has(set: CharSet, code: number): boolean {
  let low = 0
  let high = set.length - 1
  while (low <= high) {
    const middle = (low + high) >> 1
    const [from, to] = set[middle]!
    if (code < from) high = middle - 1
    else if (code > to) low = middle + 1
    else return true
  }
  return false
}

export const DIGIT: CharSet = [[0x30, 0x39]]
export const WORD: CharSet = [
  [0x30, 0x39],
  [0x41, 0x5a],
  [0x5f, 0x5f],
  [0x61, 0x7a],
]
/** RE2's \s: [\t\n\f\r ]. */
export const SPACE: CharSet = [
  [0x09, 0x0a],
  [0x0c, 0x0d],
  [0x20, 0x20],
]

/**
 * Characters that fold alike, by Unicode's CaseFolding (C and the single ones of F); each list holds all of one orbit.
 */
const orbits = (() => {
  const byFolded = new Map<number, number[]>()
  const put = (from: number, to: number) => {
    const list = byFolded.get(to)
    if (list) list.push(from)
    else byFolded.set(to, [to, from])
  }
  for (const run of COMMON.split(' ')) {
    const [from, to, step, delta] = run.split(',') as [string, string, string, string]
    for (let code = parseInt(from, 16); code <= parseInt(to, 16); code += Number(step)) put(code, code + Number(delta))
  }
  for (const rule of FULL.split(' ')) {
    const [from, to] = rule.split('>') as [string, string]
    if (!to.includes('+')) put(parseInt(from, 16), parseInt(to, 16))
  }
  return [...byFolded.values()]
})()
const orbitOf = new Map(orbits.flatMap((orbit) => orbit.map((code) => [code, orbit] as const)))

/** A set with every character that differs from one of it in case only. */
export function foldSet(set: CharSet): CharSet {
  const size = set.reduce((sum, [low, high]) => sum + high - low + 1, 0)
  const more: [number, number][] = []
  if (size <= 200) {
    for (const [low, high] of set)
      for (let code = low; code <= high; code++) for (const other of orbitOf.get(code) ?? []) more.push([other, other])
  } else {
    for (const orbit of orbits)
      if (orbit.some((code) => has(set, code))) for (const code of orbit) more.push([code, code])
  }
  return charSet([...set, ...more])
}

const properties = new Map<string, CharSet | undefined>()

/** RE2 knows categories by their short names and scripts by their long ones. */
function propertyTest(name: string): RegExp | undefined {
  try {
    return new RegExp(/^[A-Z][a-z&]?$/.test(name) ? `\\p{${name}}` : `\\p{Script=${name}}`, 'u')
  } catch {
    return undefined
  }
}

/**
 * The characters of a general category (`L`, `Nd`) or script (`Greek`), by the engine's Unicode tables; `undefined`
 * where there is no such name.
 */
export function unicodeClass(name: string): CharSet | undefined {
  if (properties.has(name)) return properties.get(name)
  if (name === 'Any') return ANY
  const test = /^[A-Za-z_&]+$/.test(name) ? propertyTest(name) : undefined
  if (!test) {
    if (properties.size < 500) properties.set(name, undefined)
    return undefined
  }
  const ranges: [number, number][] = []
  let from = -1
  for (let code = 0; code <= LAST + 1; code++) {
    const inside = code <= LAST && !(code >= 0xd800 && code <= 0xdfff) && test.test(String.fromCodePoint(code))
    if (inside && from < 0) from = code
    if (!inside && from >= 0) {
      ranges.push([from, code - 1])
      from = -1
    }
    // The planes between the supplementary ideographs and the tags hold nothing.
    if (code === 0x323af && from < 0) code = 0xdffff
  }
  properties.set(name, ranges)
  return ranges
}
