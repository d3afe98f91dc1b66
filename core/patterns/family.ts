import { canonicalSlug, type Sameness } from '../address/slug'
import { accepts, determinise, minimise, MAX_STATES, search, sizeOf, type Dfa } from './dfa'
import { buildNfa, partitionOf, type Partition } from './nfa'
import { PatternFault, type Pattern } from './node'
import { canonicalPaths } from './paths'

/** A pattern with the slugs it leaves alone, to be compared. */
export interface Compared {
  pattern: Pattern
  /** Canonical slugs that it does not take although they match. */
  except?: readonly string[]
}

/** Patterns of one domain as automata over the same classes: the canonical paths that each takes. */
export interface Family {
  dfas: Dfa[]
  partition: Partition
  sameness: Sameness
}

export type FamilyReading = { ok: true; family: Family } | { ok: false; at: number; sentence: string }

/**
 * Compiles patterns together. Each automaton takes exactly the canonical paths that the gateway gives to the pattern: a
 * path matches when one of its spellings does, so where a trailing slash is ignored `/a/` takes `/a`.
 * A pattern that is too involved is told by its index.
 */
export function compileFamily(compared: readonly Compared[], sameness: Sameness): FamilyReading {
  const paths = canonicalPaths(sameness)
  let at = 0
  try {
    const nfas = compared.map(({ pattern }, index) => {
      at = index
      return buildNfa(pattern.node)
    })
    const exceptions = compared.map(({ except }) => [...(except ?? [])].map((slug) => '/' + slug))
    const partition = partitionOf([
      ...paths.sets,
      ...nfas.flatMap((nfa) => nfa.reads.flatMap((reads) => reads.map(({ set }) => set))),
      ...exceptions
        .flat()
        .flatMap((path) =>
          Array.from(path, (character) => [[character.codePointAt(0)!, character.codePointAt(0)!]] as const),
        ),
    ])
    const path = paths.table(partition)
    const slash = partition.classOf(0x2f)
    const dfas = nfas.map((nfa, index) => {
      at = index
      const whole = determinise(nfa, partition)
      const within = intersect(whole, path, slash, sameness.trailingSlashMatters)
      return exceptions[index]!.length > 0 ? without(within, exceptions[index]!, partition) : within
    })
    return { ok: true, family: { dfas, partition, sameness } }
  } catch (error) {
    if (error instanceof PatternFault) return { ok: false, at, sentence: error.message }
    throw error
  }
}

function intersect(
  dfa: Dfa,
  path: { accepts: Uint8Array; afterSlash: Uint8Array; next: Int32Array },
  slash: number,
  trailingSlashMatters: boolean,
): Dfa {
  const { classes } = dfa
  const numbers = new Map<number, number>([[0, 0]])
  const pairs = [0]
  const width = path.accepts.length
  const rows: number[] = []
  const accepting: number[] = []
  for (let index = 0; index < pairs.length; index++) {
    const [one, two] = [Math.floor(pairs[index]! / width), pairs[index]! % width]
    let taken = dfa.accepts[one] === 1
    if (!taken && !trailingSlashMatters && !path.afterSlash[two]) {
      const spelled = dfa.next[one * classes + slash]!
      taken = spelled >= 0 && dfa.accepts[spelled] === 1
    }
    accepting.push(taken && path.accepts[two] ? 1 : 0)
    for (let cls = 0; cls < classes; cls++) {
      const [a, b] = [dfa.next[one * classes + cls]!, path.next[two * classes + cls]!]
      if (a < 0 || b < 0) {
        rows.push(-1)
        continue
      }
      const pair = a * width + b
      let number = numbers.get(pair)
      if (number === undefined) {
        number = pairs.length
        numbers.set(pair, number)
        pairs.push(pair)
      }
      rows.push(number)
    }
  }
  return minimise({ classes, accepts: Uint8Array.from(accepting), next: Int32Array.from(rows) })
}

/** Takes single paths out of an automaton: a branch of states for their begins, beside the automaton's own. */
function without(dfa: Dfa, texts: readonly string[], partition: Partition): Dfa {
  const { classes } = dfa
  const count = sizeOf(dfa)
  const branches = new Map<string, number>([['', count]])
  const rows: { state: number; begin: string }[] = [{ state: 0, begin: '' }]
  const spelled = texts.map((text) => Array.from(text, (character) => partition.classOf(character.codePointAt(0)!)))
  const all = new Set(spelled.map((list) => list.join()))
  const begins = new Set(spelled.flatMap((list) => list.map((_, length) => list.slice(0, length + 1).join())))
  const next: number[] = [...dfa.next]
  const accepting: number[] = [...dfa.accepts]
  for (let index = 0; index < rows.length; index++) {
    const { state, begin } = rows[index]!
    accepting.push(dfa.accepts[state] && !all.has(begin) ? 1 : 0)
    for (let cls = 0; cls < classes; cls++) {
      const to = dfa.next[state * classes + cls]!
      const longer = begin === '' ? `${cls}` : `${begin},${cls}`
      if (to < 0 || !begins.has(longer)) next.push(to)
      else {
        if (!branches.has(longer)) {
          branches.set(longer, count + rows.length)
          rows.push({ state: to, begin: longer })
          if (count + rows.length > MAX_STATES * 8)
            throw new PatternFault('This rule leaves too many single addresses alone.')
        }
        next.push(branches.get(longer)!)
      }
    }
  }
  // The branch's first state begins: exchange it with state 0.
  const swap = (to: number) => (to === 0 ? count : to === count ? 0 : to)
  const turned = new Int32Array(next.length)
  const turnedAccepts = new Uint8Array(accepting.length)
  for (let state = 0; state < accepting.length; state++) {
    turnedAccepts[swap(state)] = accepting[state]!
    for (let cls = 0; cls < classes; cls++) {
      const to = next[state * classes + cls]!
      turned[swap(state) * classes + cls] = to < 0 ? -1 : swap(to)
    }
  }
  return minimise({ classes, accepts: turnedAccepts, next: turned })
}

/** Whether a family's member takes a canonical slug. */
export const takes = (family: Family, member: number, canonical: string): boolean =>
  accepts(family.dfas[member]!, family.partition, '/' + canonical)

const TRIES = 40

/**
 * Canonical slugs, shortest first, that each of `inAll` takes and none of `inNone`; at most `most`, one for each way to
 * end: not all of them (that is `firstWords`). Proven: an empty list means that there is none. Throws PatternFault
 * where the automata together are too involved.
 */
export function witnesses(family: Family, inAll: readonly number[], inNone: readonly number[], most = 1): string[] {
  const members = [...inAll, ...inNone]
  const needed = inAll.map((_, at) => at)
  const wanted = (accepted: (at: number) => boolean) => members.every((_, at) => accepted(at) === at < inAll.length)
  const slugs: string[] = []
  for (const path of search(
    members.map((member) => family.dfas[member]!),
    needed,
    wanted,
    most === 1 ? 1 : most,
  ))
    slugs.push(spell(family, path))
  const sound = slugs.filter((slug) => isCanonical(slug, family.sameness))
  if (sound.length > 0 || slugs.length === 0) return sound
  // Characters beyond ASCII that compose otherwise: try further texts before giving the shortest one up.
  return search(
    members.map((member) => family.dfas[member]!),
    needed,
    wanted,
    TRIES,
  )
    .map((path) => spell(family, path))
    .filter((slug) => isCanonical(slug, family.sameness))
    .slice(0, most)
}

const spell = (family: Family, path: readonly number[]) =>
  path
    .map((cls) => String.fromCodePoint(family.partition.sample[cls]!))
    .join('')
    .slice(1)
const isCanonical = (slug: string, sameness: Sameness) => canonicalSlug(slug, sameness) === slug
