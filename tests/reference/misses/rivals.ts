import { createRequire } from 'node:module'
import Fuse from 'fuse.js'
import type { IndexedLink } from '../../../core/misses'
import { osaDistance } from '../../../core/slugs/distance'

const require = createRequire(import.meta.url)
const jaroWinkler = require('jaro-winkler') as (a: string, b: string) => number

/** One way to rank links for what was typed: the ids of the first three, best first. */
export type Ranker = (typed: string) => number[]

const byScore = (links: readonly IndexedLink[], score: (link: IndexedLink) => number): number[] =>
  links
    .map((link) => ({ link, score: score(link) }))
    // The same prior for all: of equals the one visited most.
    .sort((a, b) => b.score - a.score || b.link.visits - a.link.visits)
    .slice(0, 3)
    .map(({ link }) => link.id)

/** How often each letter occurs; some letters are counted together. */
function lettersOf(text: string): Uint8Array {
  const counts = new Uint8Array(64)
  for (let at = 0; at < text.length; at++) counts[text.charCodeAt(at) & 63]!++
  return counts
}

/**
 * So far apart two texts are at the least, by their letters: one slip takes one letter, adds one, or both, and swapping
 * neighbours changes none.
 */
function leastApart(one: Uint8Array, other: Uint8Array): number {
  let [more, less] = [0, 0]
  for (let letter = 0; letter < 64; letter++) {
    const apart = one[letter]! - other[letter]!
    if (apart > 0) more += apart
    else less -= apart
  }
  return Math.max(more, less)
}

/** Plain edit distance (optimal string alignment, Damerau 1964), ties by visits. */
export function editDistance(links: readonly IndexedLink[]): Ranker {
  const sorted = [...links].sort((a, b) => b.visits - a.visits)
  const letters = sorted.map(({ canonical }) => lettersOf(canonical))
  return (typed) => {
    const best: { id: number; distance: number }[] = []
    const own = lettersOf(typed)
    for (const [at, { id, canonical }] of sorted.entries()) {
      const worst = best.length < 3 ? Infinity : best[2]!.distance
      if (leastApart(own, letters[at]!) >= worst) continue
      const distance = osaDistance(typed, canonical)
      if (distance >= worst) continue
      best.push({ id, distance })
      best.sort((a, b) => a.distance - b.distance)
      best.length = Math.min(3, best.length)
    }
    return best.map(({ id }) => id)
  }
}

/** Jaro–Winkler similarity by the registry’s package of that name, ties by visits. */
export const jaroWinklerRanker =
  (links: readonly IndexedLink[]): Ranker =>
  (typed) =>
    byScore(links, ({ canonical }) => jaroWinkler(typed, canonical))

/** The registry’s most used general fuzzy search, as it comes. */
export function fuzzySearch(links: readonly IndexedLink[]): Ranker {
  const fuse = new Fuse(links, { keys: ['canonical'], includeScore: true, threshold: 0.6 })
  return (typed) => fuse.search(typed, { limit: 3 }).map(({ item }) => item.id)
}
