import type { Sameness } from '../address/slug'
import { charSet, ofCharacters, type CharSet } from './charset'
import type { Partition } from './nfa'

/**
 * Bare characters of canonical paths beyond letters, digits and the dot: unreserved and sub-delims, ":" and "@" (RFC
 * 3986 §3.3).
 */
const MARKS = ofCharacters("-_~!$&'()*+,;=:@")
const SMALL: CharSet = [[0x61, 0x7a]]
const CAPITAL: CharSet = [[0x41, 0x5a]]
const DIGITS: CharSet = [[0x30, 0x39]]
const BEYOND: CharSet = [
  [0xa1, 0xd7ff],
  [0xe000, 0xfdcf],
  [0xfdf0, 0xfffd],
  [0x10000, 0x1fffd],
  [0x20000, 0x3fffd],
]
/**
 * What may follow `%2` … `%7` in a canonical path: escapes of ASCII that is neither unreserved nor a control character.
 */
const SECOND: Record<string, string> = {
  '2': '0123456789ABCF',
  '3': 'ABCDEF',
  '4': '0',
  '5': 'BCDE',
  '6': '0',
  '7': 'BCD',
}
const WELL_KNOWN = '.well-known'

/** A deterministic automaton written down arrow by arrow. */
export interface PathMachine {
  sets: CharSet[]
  /** Gives its table over a partition that knows its sets. */
  table(partition: Partition): { count: number; accepts: Uint8Array; afterSlash: Uint8Array; next: Int32Array }
}

/**
 * The canonical paths of a domain, as `readSlug` gives them: “/” and a slug of pchars, whole upper-case escapes, no dot
 * segments, no trailing slash and no capitals where those do not matter, nothing under /.well-known/. Beyond ASCII it
 * takes a little more than there is (composition is not told), so a witness with such characters must be put to
 * `readSlug`.
 */
export function canonicalPaths(sameness: Sameness): PathMachine {
  const bare = charSet([...MARKS, ...SMALL, ...DIGITS, ...BEYOND, ...(sameness.capitalsMatter ? CAPITAL : [])])
  const arrows: { from: string; set: CharSet; to: string }[] = []
  const accepting = new Set<string>()
  const arrow = (from: string, characters: CharSet | string, to: string) =>
    arrows.push({ from, set: typeof characters === 'string' ? ofCharacters(characters) : characters, to })
  const [slash, dot] = ['/', '.']
  arrow('begin', slash, 'root')
  accepting.add('root')
  // Segments: empty (after one slash, after several), one dot, two dots, any other.
  for (const place of ['root', 'one', 'more', 'dot', 'dots', 'seg']) {
    arrow(place, bare, 'seg')
    arrow(place, '%', 'percent')
    arrow(place, dot, place === 'dot' ? 'dots' : place === 'dots' || place === 'seg' ? 'seg' : 'dot')
  }
  for (const [first, second] of Object.entries(SECOND)) {
    arrow('percent', first, `percent${first}`)
    arrow(`percent${first}`, second, 'seg')
  }
  arrow('seg', slash, 'one')
  for (const place of ['root', 'one', 'more']) arrow(place, slash, 'more')
  accepting.add('seg').add('more')
  if (sameness.trailingSlashMatters) accepting.add('one')
  // The first segment, letter by letter, as long as it may become .well-known.
  const known = (length: number) => (length === 1 ? 'w1' : `w${length}`)
  arrows.splice(
    arrows.findIndex(({ from, set }) => from === 'root' && set[0]![0] === 0x2e),
    1,
  )
  arrow('root', dot, known(1))
  for (let length = 1; length <= WELL_KNOWN.length; length++) {
    const place = known(length)
    const next = WELL_KNOWN[length]
    if (next !== undefined) arrow(place, next, known(length + 1))
    arrow(
      place,
      next === undefined ? bare : charSet(bare.flatMap(([low, high]) => without(low, high, next.codePointAt(0)!))),
      'seg',
    )
    arrow(place, '%', 'percent')
    arrow(place, dot, length === 1 ? 'dots' : 'seg')
    if (length > 1 && length < WELL_KNOWN.length) {
      arrow(place, slash, 'one')
      accepting.add(place)
    }
  }
  const names = [...new Set(['begin', ...arrows.flatMap(({ from, to }) => [from, to])])]
  const number = new Map(names.map((name, index) => [name, index]))
  return {
    sets: arrows.map(({ set }) => set),
    table(partition) {
      const next = new Int32Array(names.length * partition.count).fill(-1)
      for (const { from, set, to } of arrows)
        for (const one of partition.classesIn(set)) next[number.get(from)! * partition.count + one] = number.get(to)!
      return {
        count: names.length,
        next,
        accepts: Uint8Array.from(names, (name) => (accepting.has(name) ? 1 : 0)),
        afterSlash: Uint8Array.from(names, (name) => (name === 'root' || name === 'one' || name === 'more' ? 1 : 0)),
      }
    },
  }
}

function without(low: number, high: number, code: number): [number, number][] {
  return code < low || code > high
    ? [[low, high]]
    : (
        [
          [low, code - 1],
          [code + 1, high],
        ] as [number, number][]
      ).filter(([from, to]) => from <= to)
}
