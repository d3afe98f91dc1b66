/**
 * Trigrams, by which a search finds the few links that can contain the searched text: every three adjacent characters
 * of a text, and those that include the beginning or end of a word. Common practice, no source.
 */

/** Marks the beginning or end of a word; no text contains it. */
const BORDER = '\u0001'
const WORD = /[\p{L}\p{N}]+/gu

/** The words of a text: runs of letters and digits. */
export const wordsIn = (text: string): string[] => text.match(WORD) ?? []

/** Every three adjacent characters of a text, each once. Characters are code points. */
export function trigrams(text: string): Set<string> {
  const grams = new Set<string>()
  const characters = [...text]
  for (let at = 0; at + 3 <= characters.length; at++)
    grams.add(characters[at]! + characters[at + 1]! + characters[at + 2]!)
  return grams
}

/** The trigrams of one word with its borders; “fares” gives `·fa far are res es·`. */
export const wordGrams = (word: string): Set<string> => trigrams(BORDER + word + BORDER)

/** Everything a link is indexed by: the trigrams of its searched text, and those of its words with their borders. */
export function indexGrams(searchText: string): Set<string> {
  const grams = trigrams(searchText)
  for (const word of new Set(wordsIn(searchText))) {
    const all = [...wordGrams(word)]
    grams.add(all[0]!)
    grams.add(all.at(-1)!)
  }
  return grams
}
