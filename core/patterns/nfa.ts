import { foldCase } from '../address/case-folding'
import { has, type CharSet } from './charset'
import { PatternFault, type Assertion, type Node } from './node'

/** States a pattern may have before it is determinised. */
export const MAX_NFA_STATES = 6000

/** A nondeterministic automaton (Thompson 1968): numbered states, arrows that read a set, arrows that read nothing. */
export interface Nfa {
  start: number
  accept: number
  reads: { set: CharSet; to: number }[][]
  skips: { to: number; assertion?: Assertion }[][]
}

/** Builds a pattern's automaton. Throws PatternFault where repetitions would make it larger than allowed. */
export function buildNfa(node: Node): Nfa {
  const nfa: Nfa = { start: 0, accept: 0, reads: [], skips: [] }
  const state = () => {
    if (nfa.reads.length >= MAX_NFA_STATES)
      throw new PatternFault(
        'This pattern is too involved to be proved apart from others: its repetitions unfold to too many ' +
          'steps. Count less far, or use “*” or “+”.',
      )
    nfa.reads.push([])
    nfa.skips.push([])
    return nfa.reads.length - 1
  }
  const skip = (from: number, to: number, assertion?: Assertion) =>
    nfa.skips[from]!.push(assertion ? { to, assertion } : { to })
  /** Adds what reads `part` from a state on; gives the state after it. */
  const add = (part: Node, from: number): number => {
    switch (part.kind) {
      case 'empty':
        return from
      case 'group':
        return add(part.item, from)
      case 'cat':
        return part.items.reduce((at, item) => add(item, at), from)
      case 'set': {
        const to = state()
        nfa.reads[from]!.push({ set: part.set, to })
        return to
      }
      case 'assert': {
        const to = state()
        skip(from, to, part.at)
        return to
      }
      case 'alt': {
        const to = state()
        for (const item of part.items) {
          const begin = state()
          skip(from, begin)
          skip(add(item, begin), to)
        }
        return to
      }
      case 'repeat': {
        let at = from
        for (let time = 0; time < part.min; time++) at = add(part.item, at)
        if (part.max === Infinity) {
          const loop = state()
          skip(at, loop)
          const begin = state()
          skip(loop, begin)
          skip(add(part.item, begin), loop)
          const to = state()
          skip(loop, to)
          return to
        }
        const to = state()
        for (let time = part.min; time < part.max; time++) {
          skip(at, to)
          const begin = state()
          skip(at, begin)
          at = add(part.item, begin)
        }
        skip(at, to)
        return to
      }
    }
  }
  nfa.start = state()
  nfa.accept = add(node, nfa.start)
  return nfa
}

/** Sets that several patterns tell apart, as classes: two characters of a class go the same ways everywhere. */
export interface Partition {
  count: number
  /** A character of each class, a plain one where there is one. */
  sample: number[]
  classOf(code: number): number
  classesIn(set: CharSet): readonly number[]
  /** The characters of a class: its sample first, then those usual in addresses, then the others. */
  charactersOf(cls: number): Generator<number>
}

// Shown in witnesses rather than others.
const PLAIN = Array.from('a1bcdefghijklmnopqrstuvwxyz023456789-ABCDEFGHIJKLMNOPQRSTUVWXYZ_.~/%', (character) =>
  character.codePointAt(0)!,
)

// Composed, folded and no half of a pair: what stands for itself in a canonical path.
function isStable(code: number): boolean {
  if (code >= 0xd800 && code <= 0xdfff) return false
  const character = String.fromCodePoint(code)
  return character.normalize('NFC') === character && foldCase(character).normalize('NFC') === character
}

const LOOKED_AT = 64
function stableIn(from: number, to: number): number | undefined {
  for (let code = from; code <= Math.min(to, from + LOOKED_AT); code++) if (isStable(code)) return code
  return undefined
}

/** The coarsest partition that keeps all of `sets` apart. */
export function partitionOf(sets: Iterable<CharSet>): Partition {
  const distinct = [
    ...new Map(Array.from(sets, (set) => [set.map(([low, high]) => `${low}-${high}`).join(), set] as const)).values(),
  ]
  const borders = new Set<number>([0])
  for (const set of distinct) for (const [low, high] of set) borders.add(low).add(high + 1)
  const starts = [...borders].filter((code) => code <= 0x10ffff).sort((a, b) => a - b)
  const bySignature = new Map<string, number>()
  const classAt = new Int32Array(starts.length)
  const sample: number[] = []
  starts.forEach((start, index) => {
    let signature = ''
    for (const set of distinct) signature += has(set, start) ? '1' : '0'
    let known = bySignature.get(signature)
    if (known === undefined) {
      known = bySignature.size
      bySignature.set(signature, known)
      sample.push(start)
    }
    if (start > 0x7f && !isStable(sample[known]!))
      sample[known] = stableIn(start, (starts[index + 1] ?? 0x110000) - 1) ?? sample[known]!
    classAt[index] = known
  })
  const classOf = (code: number) => {
    let low = 0
    let high = starts.length - 1
    while (low < high) {
      const middle = (low + high + 1) >> 1
      if (starts[middle]! <= code) low = middle
      else high = middle - 1
    }
    return classAt[low]!
  }
  for (const code of [...PLAIN].reverse()) sample[classOf(code)] = code
  const remembered = new Map<CharSet, readonly number[]>()
  return {
    count: bySignature.size,
    sample,
    classOf,
    *charactersOf(cls) {
      const first = new Set([sample[cls]!, ...PLAIN.filter((code) => classOf(code) === cls)])
      yield* first
      for (const [index, start] of starts.entries())
        if (classAt[index] === cls)
          for (let code = start; code < (starts[index + 1] ?? 0x110000); code++) if (!first.has(code)) yield code
    },
    classesIn(set) {
      let classes = remembered.get(set)
      if (!classes) {
        const found = new Set<number>()
        starts.forEach((start, index) => has(set, start) && found.add(classAt[index]!))
        remembered.set(set, (classes = [...found]))
      }
      return classes
    },
  }
}
