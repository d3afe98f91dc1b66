import { WORD } from './charset'
import { PatternFault } from './node'
import type { Nfa, Partition } from './nfa'

/** States a pattern's automaton may have; beyond, it is refused. */
export const MAX_STATES = 2000

/** A deterministic automaton over a partition's classes. State 0 begins; −1 leads nowhere. */
export interface Dfa {
  classes: number
  accepts: Uint8Array
  /** `next[state * classes + class]`. */
  next: Int32Array
}

export const sizeOf = (dfa: Dfa): number => dfa.accepts.length

const TOO_INVOLVED =
  'This pattern is too involved to be proved apart from others: it would need more than ' +
  `${MAX_STATES.toLocaleString('en')} states. Long counted repetitions after a choice make it so; ` +
  'write it more plainly, or as several rules.'

/**
 * Determinises (Rabin & Scott 1959), with `^ $ \b \B` decided as each next character is known. Throws PatternFault
 * beyond MAX_STATES states.
 */
export function determinise(nfa: Nfa, partition: Partition): Dfa {
  const hasWords = nfa.skips.some((skips) =>
    skips.some(({ assertion }) => assertion === 'word' || assertion === 'not-word'),
  )
  const isWord = partition.sample.map((_, index) => hasWords && partition.classesIn(WORD).includes(index))
  const classes = partition.count
  const states = new Map<string, number>()
  const sets: { members: number[]; start: boolean; word: boolean }[] = []
  const rows: Int32Array[] = []
  const accepts: number[] = []

  const intern = (members: number[], start: boolean, word: boolean): number => {
    const key = `${start ? 's' : ''}${word ? 'w' : ''}${members.join()}`
    let known = states.get(key)
    if (known === undefined) {
      known = sets.length
      if (known >= MAX_STATES) throw new PatternFault(TOO_INVOLVED)
      states.set(key, known)
      sets.push({ members, start, word })
    }
    return known
  }
  const close = (members: readonly number[], start: boolean, end: boolean, boundary: boolean): Set<number> => {
    const closed = new Set(members)
    const open = [...members]
    for (let state = open.pop(); state !== undefined; state = open.pop()) {
      for (const { to, assertion } of nfa.skips[state]!) {
        const holds =
          assertion === undefined ||
          (assertion === 'start' ? start : assertion === 'end' ? end : assertion === 'word' ? boundary : !boundary)
        if (holds && !closed.has(to)) {
          closed.add(to)
          open.push(to)
        }
      }
    }
    return closed
  }

  intern([nfa.start], true, false)
  for (let index = 0; index < sets.length; index++) {
    const { members, start, word } = sets[index]!
    const row = new Int32Array(classes).fill(-1)
    accepts.push(close(members, start, true, word).has(nfa.accept) ? 1 : 0)
    for (const next of hasWords ? [false, true] : [false]) {
      const targets = new Map<number, Set<number>>()
      for (const state of close(members, start, false, word !== next)) {
        for (const { set, to } of nfa.reads[state]!) {
          for (const one of partition.classesIn(set)) {
            if (hasWords && isWord[one] !== next) continue
            const list = targets.get(one)
            if (list) list.add(to)
            else targets.set(one, new Set([to]))
          }
        }
      }
      const interned = new Map<string, number>()
      for (const [one, to] of targets) {
        const list = [...to].sort((a, b) => a - b)
        const key = list.join()
        let target = interned.get(key)
        if (target === undefined) interned.set(key, (target = intern(list, false, next)))
        row[one] = target
      }
    }
    rows.push(row)
  }
  const next = new Int32Array(rows.length * classes)
  rows.forEach((row, index) => next.set(row, index * classes))
  return minimise({ classes, accepts: Uint8Array.from(accepts), next })
}

const MAX_ROUNDS = 40

/** Takes out states from which nothing is accepted, and joins those that accept the same (Moore 1956). */
export function minimise(dfa: Dfa): Dfa {
  const { classes } = dfa
  const count = sizeOf(dfa)
  const live = new Uint8Array(count)
  const into: number[][] = Array.from({ length: count }, () => [])
  for (let state = 0; state < count; state++) {
    for (let one = 0; one < classes; one++) {
      const to = dfa.next[state * classes + one]!
      if (to >= 0 && into[to]!.at(-1) !== state) into[to]!.push(state)
    }
  }
  const open: number[] = []
  for (let state = 0; state < count; state++) {
    if (!dfa.accepts[state]) continue
    open.push(state)
    live[state] = 1
  }
  for (let state = open.pop(); state !== undefined; state = open.pop()) {
    for (const from of into[state]!) {
      if (live[from]) continue
      live[from] = 1
      open.push(from)
    }
  }
  let block = Int32Array.from({ length: count }, (_, state) => (live[state] ? dfa.accepts[state]! : -1))
  for (let blocks = new Set(block).size, round = 0; ; round++) {
    // Long chains would take as many rounds as they have states; they are left as they are.
    if (round === MAX_ROUNDS) {
      block = Int32Array.from({ length: count }, (_, state) => (live[state] ? state : -1))
      break
    }
    const keys = new Map<string, number>()
    const finer = new Int32Array(count).fill(-1)
    for (let state = 0; state < count; state++) {
      if (!live[state]) continue
      let key = `${block[state]}`
      for (let one = 0; one < classes; one++) {
        const to = dfa.next[state * classes + one]!
        key += `,${to < 0 ? -1 : block[to]}`
      }
      if (!keys.has(key)) keys.set(key, keys.size)
      finer[state] = keys.get(key)!
    }
    block = finer
    const now = new Set(block).size
    if (now === blocks) break
    blocks = now
  }
  // The block of the beginning comes first; an automaton that accepts nothing keeps one state that does not.
  const number = new Map<number, number>()
  const represent: number[] = []
  const name = (state: number) => {
    const of = block[state]!
    if (of < 0) return -1
    if (!number.has(of)) {
      number.set(of, represent.length)
      represent.push(state)
    }
    return number.get(of)!
  }
  if (name(0) < 0) return { classes, accepts: new Uint8Array(1), next: new Int32Array(classes).fill(-1) }
  const rows: Int32Array[] = []
  for (let index = 0; index < represent.length; index++) {
    rows.push(
      Int32Array.from({ length: classes }, (_, one) => {
        const to = dfa.next[represent[index]! * classes + one]!
        return to < 0 ? -1 : name(to)
      }),
    )
  }
  const next = new Int32Array(rows.length * classes)
  rows.forEach((row, index) => next.set(row, index * classes))
  return { classes, accepts: Uint8Array.from(represent, (state) => dfa.accepts[state]!), next }
}

/** Whether a minimised automaton accepts texts without end: whether one of its states can be come to again. */
export function isEndless(dfa: Dfa): boolean {
  const state = new Uint8Array(sizeOf(dfa))
  const path: [at: number, cls: number][] = [[0, 0]]
  state[0] = 1
  while (path.length > 0) {
    const top = path.at(-1)!
    if (top[1] === dfa.classes) {
      state[top[0]] = 2
      path.pop()
      continue
    }
    const to = dfa.next[top[0] * dfa.classes + top[1]++]!
    if (to < 0 || state[to] === 2) continue
    if (state[to] === 1) return true
    state[to] = 1
    path.push([to, 0])
  }
  return false
}

/** Whether a text is accepted. */
export function accepts(dfa: Dfa, partition: Partition, text: string): boolean {
  let state = 0
  for (const character of text) {
    state = dfa.next[state * dfa.classes + partition.classOf(character.codePointAt(0)!)]!
    if (state < 0) return false
  }
  return dfa.accepts[state] === 1
}

/** States looked at in a product before it is given up. */
export const MAX_LOOKED_AT = 150_000

/**
 * Searches the product of automata for texts, shortest first, whose verdicts satisfy `wanted`: one flag for each
 * automaton, told whether it accepts. `needed` are those without which there is nothing (a text that leaves one of them
 * is dropped). Gives lists of classes, at most `most`; throws PatternFault where the product is too large.
 */
export function search(
  dfas: readonly Dfa[],
  needed: readonly number[],
  wanted: (accepted: (index: number) => boolean) => boolean,
  most = 1,
): number[][] {
  const { classes } = dfas[0]!
  const found: number[][] = []
  // A tuple as one number, where that is exact.
  const radix = dfas.map((dfa) => sizeOf(dfa) + 1)
  const exact = radix.reduce((product, size) => product * size, 1) < Number.MAX_SAFE_INTEGER
  const keyOf = (tuple: Int32Array): number | string =>
    exact ? tuple.reduce((key, state, at) => key * radix[at]! + state + 1, 0) : tuple.join()
  const known = new Set<number | string>()
  const tuples: Int32Array[] = []
  const from: number[] = []
  const by: number[] = []
  const visit = (tuple: Int32Array, parent: number, one: number) => {
    const key = keyOf(tuple)
    if (known.has(key)) return
    if (tuples.length >= MAX_LOOKED_AT)
      throw new PatternFault('These patterns are too involved together to be compared.')
    known.add(key)
    tuples.push(tuple)
    from.push(parent)
    by.push(one)
  }
  visit(new Int32Array(dfas.length), -1, -1)
  for (let index = 0; index < tuples.length; index++) {
    const tuple = tuples[index]!
    if (wanted((at) => tuple[at]! >= 0 && dfas[at]!.accepts[tuple[at]!] === 1)) {
      const path: number[] = []
      for (let at = index; from[at]! >= 0; at = from[at]!) path.unshift(by[at]!)
      found.push(path)
      if (found.length >= most) break
    }
    for (let one = 0; one < classes; one++) {
      if (needed.some((at) => dfas[at]!.next[tuple[at]! * classes + one]! < 0)) continue
      const to = new Int32Array(dfas.length)
      for (let at = 0; at < dfas.length; at++)
        to[at] = tuple[at]! < 0 ? -1 : dfas[at]!.next[tuple[at]! * classes + one]!
      visit(to, index, one)
    }
  }
  return found
}
