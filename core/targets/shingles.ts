/** Words a shingle holds, and how many of the least hashes are kept. */
const WIDTH = 4
const KEPT = 96

/** Words as they are compared: lower case, numbers and long identifiers all alike. */
export function comparableWords(text: string): string[] {
  const words =
    text
      .toLowerCase()
      .normalize('NFKC')
      .match(/[\p{L}\p{N}]+/gu) ?? []
  return words.map((word) => (/^\d+$/.test(word) || /^(?=.*\d)[0-9a-f]{8,}$/.test(word) ? '#' : word))
}

/** FNV-1a over UTF-16 code units, 32 bits (Fowler, Noll & Vo; draft-eastlake-fnv, from memory). */
function hash(text: string): number {
  let value = 0x811c9dc5
  for (let at = 0; at < text.length; at++) value = Math.imul(value ^ text.charCodeAt(at), 0x01000193)
  // One round of mixing more: neighbouring texts must not have neighbouring hashes.
  value = Math.imul(value ^ (value >>> 16), 0x85ebca6b)
  return (value ^ (value >>> 13)) >>> 0
}

/**
 * The sketch of a text: the least hashes of its four-word shingles, ascending (Broder 1997, “On the resemblance and
 * containment of documents”). A text of fewer words is one shingle; one of none has an empty sketch.
 */
export function sketchOf(words: readonly string[]): number[] {
  const hashes = new Set<number>()
  if (words.length > 0 && words.length < WIDTH) hashes.add(hash(words.join(' ')))
  for (let from = 0; from + WIDTH <= words.length; from++) hashes.add(hash(words.slice(from, from + WIDTH).join(' ')))
  return [...hashes].sort((a, b) => a - b).slice(0, KEPT)
}

/** How alike two texts are by their sketches, 0 to 1: an unbiased estimate of their shingles' Jaccard coefficient. */
export function resemblance(one: readonly number[], other: readonly number[]): number {
  if (one.length === 0 || other.length === 0) return one.length === other.length ? 1 : 0
  const inOne = new Set(one)
  const inOther = new Set(other)
  // A sketch that is not full holds all of its text's hashes.
  const most = Math.min(KEPT, new Set([...one, ...other]).size)
  const least = [...new Set([...one, ...other])].sort((a, b) => a - b).slice(0, most)
  return least.filter((value) => inOne.has(value) && inOther.has(value)).length / least.length
}
