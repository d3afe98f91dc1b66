/**
 * Optimal string alignment distance: insertions, deletions, substitutions and transpositions of neighbours, no piece
 * edited twice (Damerau 1964). Counts UTF-16 units.
 */
export function osaDistance(a: string, b: string): number {
  if (a === b) return 0
  let before: number[] = []
  let last = Array.from({ length: b.length + 1 }, (_, at) => at)
  for (let i = 1; i <= a.length; i++) {
    const row = [i]
    for (let j = 1; j <= b.length; j++) {
      const same = a[i - 1] === b[j - 1]
      let least = Math.min(last[j]! + 1, row[j - 1]! + 1, last[j - 1]! + (same ? 0 : 1))
      if (i > 1 && j > 1 && a[i - 1] === b[j - 2] && a[i - 2] === b[j - 1]) least = Math.min(least, before[j - 2]! + 1)
      row.push(least)
    }
    before = last
    last = row
  }
  return last[b.length]!
}

/** Whether two texts are exactly one slip apart (OSA distance 1), in one pass. */
export function isOneSlip(a: string, b: string): boolean {
  const [long, short] = a.length >= b.length ? [a, b] : [b, a]
  if (long.length - short.length > 1 || a === b) return false
  let at = 0
  while (at < short.length && long[at] === short[at]) at++
  if (long.length > short.length) return long.slice(at + 1) === short.slice(at)
  if (long.slice(at + 1) === short.slice(at + 1)) return true
  return long[at] === short[at + 1] && long[at + 1] === short[at] && long.slice(at + 2) === short.slice(at + 2)
}

/** Numbers of a series stand in for each other: slugs that differ in their digits only are siblings, not slips. */
export const digitMask = (slug: string): string => slug.replace(/[0-9]+/g, '#')

/** How much of a long work goes on between two steps: some milliseconds. */
const TEXTS_A_STEP = 1000
const NUMBERS_A_STEP = 50_000
const PARTS = 256

/**
 * All pairs of different texts exactly one slip apart, as pairs of indices, lower one first; pairs whose digit masks
 * are the same (siblings of a series) are left out. By shared deletions: two texts one slip apart have a text in common
 * that each gives by taking away at most one unit. Gives `undefined` now and then, so that others have their turn.
 * Memory grows with the total length.
 */
export function* slipPairs(texts: readonly string[]): Generator<[number, number] | undefined> {
  const masks = new Map<string, number>()
  const maskOf = new Uint32Array(texts.length)
  for (let index = 0; index < texts.length; index++) {
    const mask = digitMask(texts[index]!)
    if (!masks.has(mask)) masks.set(mask, masks.size)
    maskOf[index] = masks.get(mask)!
    if (index % TEXTS_A_STEP === 0) yield undefined
  }
  const total = texts.reduce((sum, text) => sum + text.length + 1, 0)
  // The shared text's hash in the upper bits, whose it is in the lower: one sort brings sharers together.
  const shared = new Float64Array(total)
  const SHIFT = 2 ** 21
  if (texts.length >= SHIFT) throw new RangeError('at most 2,097,151 texts')
  let filled = 0
  for (let index = 0; index < texts.length; index++) {
    const text = texts[index]!
    shared[filled++] = hash(text, -1) * SHIFT + index
    for (let skip = 0; skip < text.length; skip++)
      if (skip === 0 || text[skip] !== text[skip - 1]) shared[filled++] = hash(text, skip) * SHIFT + index
    if (index % TEXTS_A_STEP === 0) yield undefined
  }
  const sorted = yield* sortInSteps(shared.subarray(0, filled), SHIFT * 2 ** 32)
  const seen = new Set<number>()
  for (let from = 0, looked = 0; from < filled;) {
    const bucket = Math.floor(sorted[from]! / SHIFT)
    let to = from + 1
    while (to < filled && Math.floor(sorted[to]! / SHIFT) === bucket) to++
    if (to - from > 1) {
      const members = Array.from(new Set(Array.from(sorted.subarray(from, to), (value) => value % SHIFT)))
      const byMask = new Map<number, number[]>()
      for (const member of members) {
        const list = byMask.get(maskOf[member]!)
        if (list) list.push(member)
        else byMask.set(maskOf[member]!, [member])
      }
      const groups = [...byMask.values()]
      for (let one = 0; one < groups.length; one++) {
        for (let other = one + 1; other < groups.length; other++) {
          for (const a of groups[one]!) {
            for (const b of groups[other]!) {
              if (!isOneSlip(texts[a]!, texts[b]!)) continue
              const [low, high] = a < b ? [a, b] : [b, a]
              const key = low * SHIFT + high
              if (seen.has(key)) continue
              seen.add(key)
              yield [low, high]
            }
          }
        }
      }
    }
    from = to
    if (++looked % 5000 === 0) yield undefined
  }
}

/** Sorts numbers from 0 up to `limit`: parted by their upper bits first, and each part by itself. */
function* sortInSteps(numbers: Float64Array, limit: number): Generator<undefined, Float64Array> {
  const width = limit / PARTS
  const partOf = (value: number) => Math.floor(value / width)
  const ends = new Uint32Array(PARTS)
  for (const [at, value] of numbers.entries()) {
    ends[partOf(value)]!++
    if (at % NUMBERS_A_STEP === 0) yield undefined
  }
  for (let part = 1; part < PARTS; part++) ends[part]! += ends[part - 1]!
  const sorted = new Float64Array(numbers.length)
  const next = Uint32Array.from(ends, (_end, part) => (part === 0 ? 0 : ends[part - 1]!))
  for (const [at, value] of numbers.entries()) {
    sorted[next[partOf(value)]!++] = value
    if (at % NUMBERS_A_STEP === 0) yield undefined
  }
  for (let part = 0; part < PARTS; part++) {
    sorted.subarray(part === 0 ? 0 : ends[part - 1]!, ends[part]!).sort()
    yield undefined
  }
  return sorted
}

/** FNV-1a over the text's units but one, 32 bits; `skip` −1 takes all. */
function hash(text: string, skip: number): number {
  let value = 0x811c9dc5
  for (let at = 0; at < text.length; at++) if (at !== skip) value = Math.imul(value ^ text.charCodeAt(at), 0x01000193)
  return value >>> 0
}
