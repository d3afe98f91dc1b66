/**
 * Sets of link numbers, in blocks of 32,768 numbers. Stored, a block is a sorted list of 16-bit offsets, low byte
 * first, or, where that is shorter, one bit for each number; the layout of Roaring bitmaps (Chambi, Lemire, Kaser and
 * Godin, “Better bitmap performance with Roaring bitmaps”, 2016), with one kind fewer. In memory every block has bits.
 */

/** Numbers to a block. */
export const BLOCK_SIZE = 32_768
const BITMAP_BYTES = BLOCK_SIZE / 8
const BITMAP_WORDS = BLOCK_SIZE / 32
const MAX_LISTED = BITMAP_BYTES / 2 - 1

/** The block a number belongs to. */
export const blockOf = (id: number): number => Math.floor(id / BLOCK_SIZE)
/** Its place there, from 0. */
export const offsetOf = (id: number): number => id % BLOCK_SIZE

/** The offsets of a stored block, ascending. */
export function offsetsOf(stored: Uint8Array): number[] {
  const offsets: number[] = []
  if (stored.length < BITMAP_BYTES)
    for (let at = 0; at < stored.length; at += 2) offsets.push(stored[at]! | (stored[at + 1]! << 8))
  else for (let offset = 0; offset < BLOCK_SIZE; offset++) if (isSet(stored, offset)) offsets.push(offset)
  return offsets
}

/** Adds one for each offset of a stored block to its count. */
export function countOffsets(stored: Uint8Array, counts: Uint8Array): void {
  if (stored.length < BITMAP_BYTES)
    for (let at = 0; at < stored.length; at += 2) counts[stored[at]! | (stored[at + 1]! << 8)]!++
  else
    for (let byte = 0; byte < BITMAP_BYTES; byte++)
      for (let bits = stored[byte]!, at = byte * 8; bits !== 0; bits >>= 1, at++) counts[at]! += bits & 1
}

/** A stored block with further offsets, in any order; those it contains already make no difference. */
export function withOffsets(stored: Uint8Array | undefined, offsets: readonly number[]): Uint8Array {
  if (stored?.length === BITMAP_BYTES) return setBits(Uint8Array.from(stored), offsets)
  const all = Uint16Array.from(new Set([...(stored ? offsetsOf(stored) : []), ...offsets])).sort()
  if (all.length > MAX_LISTED) return setBits(new Uint8Array(BITMAP_BYTES), all)
  const list = new Uint8Array(all.length * 2)
  for (const [at, offset] of all.entries()) {
    list[at * 2] = offset & 255
    list[at * 2 + 1] = offset >> 8
  }
  return list
}

const isSet = (bits: Uint8Array, offset: number) => ((bits[offset >> 3]! >> (offset & 7)) & 1) === 1

function setBits(bits: Uint8Array, offsets: Iterable<number>): Uint8Array {
  for (const offset of offsets) bits[offset >> 3]! |= 1 << (offset & 7)
  return bits
}

/** A set of link numbers. */
export class IdSet {
  private readonly blocks = new Map<number, Uint32Array>()

  /** A set of these numbers. */
  static of(ids: Iterable<number>): IdSet {
    const set = new IdSet()
    for (const id of ids) set.add(id)
    return set
  }

  /** Adds a number. */
  add(id: number): void {
    const offset = offsetOf(id)
    this.bitsOf(blockOf(id))[offset >> 5]! |= 1 << (offset & 31)
  }

  /** Adds all of a stored block. */
  addStored(block: number, stored: Uint8Array): void {
    const bits = this.bitsOf(block)
    for (const offset of offsetsOf(stored)) bits[offset >> 5]! |= 1 << (offset & 31)
  }

  /** Adds all of another set. */
  addAll(other: IdSet): void {
    for (const [block, theirs] of other.blocks) {
      const ours = this.bitsOf(block)
      for (let at = 0; at < BITMAP_WORDS; at++) ours[at]! |= theirs[at]!
    }
  }

  /** Keeps only what is in the other set as well. */
  keepOnly(other: IdSet): void {
    for (const [block, ours] of this.blocks) {
      const theirs = other.blocks.get(block)
      if (!theirs) this.blocks.delete(block)
      else for (let at = 0; at < BITMAP_WORDS; at++) ours[at]! &= theirs[at]!
    }
  }

  /** Whether a number is in it. */
  has(id: number): boolean {
    const offset = offsetOf(id)
    return (((this.blocks.get(blockOf(id))?.[offset >> 5] ?? 0) >> (offset & 31)) & 1) === 1
  }

  /** How many numbers are in it. */
  get size(): number {
    let size = 0
    for (const bits of this.blocks.values()) for (const word of bits) size += onesIn(word)
    return size
  }

  /** Its numbers; ascending within each block. */
  *[Symbol.iterator](): Generator<number> {
    for (const [block, bits] of this.blocks)
      for (let at = 0; at < BITMAP_WORDS; at++)
        for (let word = bits[at]!; word !== 0; word &= word - 1)
          yield block * BLOCK_SIZE + at * 32 + 31 - Math.clz32(word & -word)
  }

  private bitsOf(block: number): Uint32Array {
    let bits = this.blocks.get(block)
    if (!bits) this.blocks.set(block, (bits = new Uint32Array(BITMAP_WORDS)))
    return bits
  }
}

/** How many bits of a word are 1. */
function onesIn(word: number): number {
  const pairs = word - ((word >>> 1) & 0x55555555)
  const fours = (pairs & 0x33333333) + ((pairs >>> 2) & 0x33333333)
  return Math.imul((fours + (fours >>> 4)) & 0x0f0f0f0f, 0x01010101) >>> 24
}
