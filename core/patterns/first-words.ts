import { canonicalSlug } from '../address/slug'
import type { Family } from './family'
import { PatternFault } from './node'

/** States of the product: what needs more is left unsaid. */
const MAX_STATES = 20_000
/** Beginnings of texts looked at before the rest is left unsaid. */
const MAX_STEPS = 4000

export interface FirstWords {
  /** Canonical slugs, shortest first. */
  words: string[]
  /** Whether these are all there are. */
  all: boolean
}

/** The product of automata as a graph: where each class leads from each state, and which states end a wanted text. */
interface Product {
  next: Int32Array[]
  ends: boolean[]
}

/**
 * The shortest canonical slugs that each of `inAll` takes and none of `inNone`, every character of a class by itself;
 * at most `most`. Where `all` is true the list is complete, which is proven. Throws PatternFault where the automata
 * together are too involved.
 */
export function firstWords(
  family: Family,
  inAll: readonly number[],
  inNone: readonly number[],
  most: number,
): FirstWords {
  const { partition, sameness } = family
  const product = withoutDeadEnds(productOf(family, inAll, inNone))
  const characters = Array.from({ length: partition.count }, (_, cls) => taken(partition.charactersOf(cls), most + 1))
  const words: string[] = []
  let all = true
  let steps = 0
  let level: Beginning[] = product.next.length > 0 ? [{ state: 0, text: '' }] : []
  const seen = new Set([0])
  while (level.length > 0) {
    for (const { state, text } of level) {
      if (++steps > MAX_STEPS) return { words, all: false }
      const slug = text.slice(1)
      if (!product.ends[state] || canonicalSlug(slug, sameness) !== slug) continue
      if (words.length === most) return { words, all: false }
      words.push(slug)
    }
    const longer = lengthen(level, product, characters, seen, most)
    all &&= longer.all
    level = longer.level
  }
  return { words, all }
}

/** The first of what a generator gives. */
function taken(codes: Generator<number>, most: number): number[] {
  const first: number[] = []
  for (const code of codes) if (first.push(code) === most) break
  return first
}

/** A beginning of a text, and the state it comes to. */
interface Beginning {
  state: number
  text: string
}

/**
 * Beginnings one character longer. Each leads to a text of its own, so where there are more than `most`, there are more
 * texts, and some are left out; but none by which a state is come to for the first time.
 */
function lengthen(
  level: readonly Beginning[],
  { next }: Product,
  characters: readonly (readonly number[])[],
  seen: Set<number>,
  most: number,
): { level: Beginning[]; all: boolean } {
  const fresh: Beginning[] = []
  const others: Beginning[] = []
  let all = true
  const isFull = () => fresh.length + others.length > most
  const add = (list: Beginning[], state: number, text: string, code: number) => {
    if (list === others && isFull()) all = false
    else list.push({ state, text: text + String.fromCodePoint(code) })
  }
  for (const { state, text } of level)
    for (const [cls, to] of next[state]!.entries()) {
      if (to < 0) continue
      add(seen.has(to) ? others : fresh, to, text, characters[cls]![0]!)
      seen.add(to)
    }
  for (const { state, text } of level)
    for (const [cls, to] of next[state]!.entries()) {
      if (to < 0) continue
      for (const code of characters[cls]!.slice(1)) {
        if (isFull()) return { level: [...fresh, ...others], all: false }
        add(others, to, text, code)
      }
    }
  return { level: [...fresh, ...others], all }
}

function productOf({ dfas }: Family, inAll: readonly number[], inNone: readonly number[]): Product {
  const members = [...inAll, ...inNone].map((member) => dfas[member]!)
  const { classes } = members[0]!
  const numbers = new Map<string, number>()
  const tuples: number[][] = []
  const numberOf = (tuple: number[]) => {
    const key = tuple.join()
    let number = numbers.get(key)
    if (number === undefined) {
      number = tuples.length
      if (number >= MAX_STATES) throw new PatternFault('These patterns are too involved together to be compared.')
      numbers.set(key, number)
      tuples.push(tuple)
    }
    return number
  }
  numberOf(members.map(() => 0))
  const next: Int32Array[] = []
  const ends: boolean[] = []
  for (let index = 0; index < tuples.length; index++) {
    const tuple = tuples[index]!
    ends.push(members.every((dfa, at) => (tuple[at]! >= 0 && dfa.accepts[tuple[at]!] === 1) === at < inAll.length))
    const row = new Int32Array(classes).fill(-1)
    for (let cls = 0; cls < classes; cls++) {
      const to = members.map((dfa, at) => (tuple[at]! < 0 ? -1 : dfa.next[tuple[at]! * classes + cls]!))
      if (to.every((state, at) => at >= inAll.length || state >= 0)) row[cls] = numberOf(to)
    }
    next.push(row)
  }
  return { next, ends }
}

/** The same with no way to a state from which no wanted text ends. */
function withoutDeadEnds({ next, ends }: Product): Product {
  const before: number[][] = next.map(() => [])
  for (const [from, row] of next.entries()) for (const to of row) if (to >= 0) before[to]!.push(from)
  const alive = new Uint8Array(next.length)
  const open = ends.flatMap((isEnd, state) => (isEnd ? [state] : []))
  for (const state of open) alive[state] = 1
  for (let state = open.pop(); state !== undefined; state = open.pop())
    for (const from of before[state]!)
      if (!alive[from]) {
        alive[from] = 1
        open.push(from)
      }
  if (!alive[0]) return { next: [], ends: [] }
  return { next: next.map((row) => row.map((to) => (to >= 0 && alive[to] ? to : -1))), ends }
}
