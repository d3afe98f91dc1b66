import { osaDistance } from '../slugs'
import { wordGrams, wordsIn } from './grams'
import type { SearchTerm } from './read-search'

/** A word that was searched for, and how it may be mistyped. */
export interface LooseWord {
  word: string
  /** The greatest distance at which another word still counts as this one. */
  slips: number
  grams: ReadonlySet<string>
}

const MIN_LOOSE = 5
const MIN_TWO_SLIPS = 9
/** One slip changes at most so many of a word's trigrams: two neighbours that change places. */
const GRAMS_A_SLIP = 4

/**
 * The words of a search for finding similar ones: each letter may be missing, too many, wrong or in its neighbour's
 * place, once from five letters on, twice from nine. Shorter words and numbers count only as they are: another number
 * is another thing.
 */
export function looseWords(terms: readonly SearchTerm[]): LooseWord[] {
  const words = new Set(terms.flatMap(({ exact, text }) => wordsIn(exact ?? text)))
  return [...words].map((word) => ({
    word,
    slips: /\p{N}/u.test(word) || word.length < MIN_LOOSE ? 0 : word.length < MIN_TWO_SLIPS ? 1 : 2,
    grams: wordGrams(word),
  }))
}

/** How many of a word's trigrams a text must contain to be worth reading. */
export const minShared = ({ grams, slips }: LooseWord): number => Math.max(1, grams.size - slips * GRAMS_A_SLIP)

/** The sum of the least distances of all words to words of a text; undefined if one of them has none near enough. */
export function distanceTo(words: readonly LooseWord[], searchText: string): number | undefined {
  const there = new Set(wordsIn(searchText))
  let sum = 0
  for (const { word, slips } of words) {
    if (there.has(word)) continue
    let least = Infinity
    if (slips > 0)
      for (const other of there)
        if (Math.abs(other.length - word.length) <= slips) least = Math.min(least, osaDistance(word, other))
    if (least > slips) return undefined
    sum += least
  }
  return sum
}
