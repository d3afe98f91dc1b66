/** Numbers that come one by one, in little more memory than they take. */
export class Growing {
  private kept = new Uint32Array(1024)
  length = 0
  push(value: number): void {
    if (this.length === this.kept.length) {
      const larger = new Uint32Array(this.kept.length * 2)
      larger.set(this.kept)
      this.kept = larger
    }
    this.kept[this.length++] = value
  }
  get all(): Uint32Array {
    return this.kept.subarray(0, this.length)
  }
}

const POSTINGS_A_STEP = 100_000

/** Files entries away by bucket: where each bucket begins, and what is in it. `ends` tells whose entries are whose. */
export function* fileAway(
  entries: Uint32Array,
  ends: Uint32Array,
  buckets: number,
  bucketOf: (entry: number) => number,
  postingOf: (at: number, entry: number) => number,
): Generator<undefined, { heads: Uint32Array<ArrayBuffer>; postings: Uint32Array<ArrayBuffer> }> {
  const heads = new Uint32Array(buckets + 1)
  const postings = new Uint32Array(entries.length)
  for (let at = 0; at < entries.length; at++) {
    heads[bucketOf(entries[at]!) + 1]!++
    if (at % POSTINGS_A_STEP === 0) yield
  }
  for (let bucket = 1; bucket <= buckets; bucket++) heads[bucket]! += heads[bucket - 1]!
  const next = heads.slice()
  for (let at = 0, entry = 0; at < ends.length; at++) {
    for (; entry < ends[at]!; entry++) {
      postings[next[bucketOf(entries[entry]!)]!++] = postingOf(at, entries[entry]!)
      if (entry % POSTINGS_A_STEP === 0) yield
    }
  }
  return { heads, postings }
}
