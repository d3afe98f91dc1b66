const BASE = 0x01000193
/** Bits for each slug: about one in sixty candidates that is no slug is compared all the same. */
const BITS_PER_SLUG = 64
const MIN_SLUGS = 256

/** Hash of `text` followed by whatever `hash` stands for the beginning of: a polynomial over UTF-16 units, 32 bits. */
const extended = (hash: number, text: string): number => {
  for (let at = 0; at < text.length; at++) hash = (Math.imul(hash, BASE) + text.charCodeAt(at)) | 0
  return hash
}

/**
 * Tells cheaply which of the many texts one slip away from a slug cannot be slugs: a Bloom filter of one hash (Bloom
 * 1970), whose hash of a changed text is joined from those of its parts, so that no text is put together for it. It may
 * let through what is no slug, and never holds back one that is. Slugs are never taken out.
 */
export class SlipFilter {
  private readonly bits: Int32Array
  private readonly mask: number
  private count = 0

  /** `slugs`: those there are. */
  constructor(slugs: Iterable<string> = [], expected = MIN_SLUGS) {
    const size = 2 ** Math.ceil(Math.log2(Math.max(expected, MIN_SLUGS) * BITS_PER_SLUG))
    this.bits = new Int32Array(size / 32)
    this.mask = size - 1
    for (const slug of slugs) this.add(slug)
  }

  /** Whether it holds so many that it lets too much through, and should be made anew. */
  get isFull(): boolean {
    return this.count * (BITS_PER_SLUG / 2) > this.mask
  }

  add(slug: string): void {
    const bit = this.bitOf(extended(0, slug))
    if (this.holds(bit)) return
    this.bits[bit >>> 5]! |= 1 << (bit & 31)
    this.count++
  }

  /** Texts one slip away from `slug`, with characters of `alphabet` inserted, that may be slugs. */
  slipsOf(slug: string, alphabet: readonly string[]): string[] {
    const { length } = slug
    const powers = [1]
    const heads = [0]
    const tails = Array.from({ length: length + 2 }, () => 0)
    for (let at = 0; at < length; at++) {
      powers.push(Math.imul(powers[at]!, BASE))
      heads.push(extended(heads[at]!, slug[at]!))
    }
    for (let at = length - 1; at >= 0; at--)
      tails[at] = (Math.imul(slug.charCodeAt(at), powers[length - 1 - at]!) + tails[at + 1]!) | 0
    const found: string[] = []
    const consider = (head: number, at: number, between: string, from: number) => {
      const joined = (Math.imul(head, powers[length - from]!) + tails[from]!) | 0
      if (this.holds(this.bitOf(joined))) found.push(slug.slice(0, at) + between + slug.slice(from))
    }
    for (let at = 0; at <= length; at++) {
      const head = heads[at]!
      const next = slug[at]
      if (next !== undefined) consider(head, at, '', at + 1)
      const after = slug[at + 1]
      if (after !== undefined && after !== next) {
        const swapped = after + next
        consider(extended(head, swapped), at, swapped, at + 2)
      }
      for (const character of alphabet) {
        const longer = extended(head, character)
        consider(longer, at, character, at)
        if (next !== undefined && character !== next) consider(longer, at, character, at + 1)
      }
    }
    return found
  }

  private holds(bit: number): boolean {
    return (this.bits[bit >>> 5]! & (1 << (bit & 31))) !== 0
  }

  private bitOf(hash: number): number {
    const mixed = Math.imul(hash ^ (hash >>> 16), 0x85ebca6b)
    return (mixed ^ (mixed >>> 13)) & this.mask
  }
}
