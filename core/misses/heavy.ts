/**
 * The paths asked most among more than can be kept: Space-Saving (Metwally, Agrawal & El Abbadi 2005, from memory),
 * with its counters in a heap by count. Each count is at most `error` too high; whatever was asked more often than all
 * requests ÷ counters is kept for certain.
 */
export class HeavyPaths {
  private readonly heap: { path: string; count: number; error: number }[] = []
  private readonly places = new Map<string, number>()

  constructor(private readonly counters: number) {}

  /** Counts one request; gives how often the path was asked at the least. */
  count(path: string): number {
    const at = this.places.get(path)
    if (at !== undefined) {
      const counter = this.heap[at]!
      counter.count++
      this.sink(at)
      return counter.count - counter.error
    }
    if (this.heap.length < this.counters) {
      this.heap.push({ path, count: 1, error: 0 })
      this.places.set(path, this.heap.length - 1)
      this.rise(this.heap.length - 1)
      return 1
    }
    const least = this.heap[0]!
    this.places.delete(least.path)
    this.heap[0] = { path, count: least.count + 1, error: least.count }
    this.places.set(path, 0)
    this.sink(0)
    return 1
  }

  /** The paths kept, the most asked first. */
  kept(): { path: string; atLeast: number; atMost: number }[] {
    return this.heap
      .map(({ path, count, error }) => ({ path, atLeast: count - error, atMost: count }))
      .sort((a, b) => b.atLeast - a.atLeast)
  }

  private swap(a: number, b: number): void {
    const [one, other] = [this.heap[a]!, this.heap[b]!]
    this.heap[a] = other
    this.heap[b] = one
    this.places.set(other.path, a)
    this.places.set(one.path, b)
  }

  private rise(from: number): void {
    for (let at = from; at > 0;) {
      const above = (at - 1) >> 1
      if (this.heap[above]!.count <= this.heap[at]!.count) return
      this.swap(at, above)
      at = above
    }
  }

  private sink(from: number): void {
    for (let at = from; ;) {
      const left = 2 * at + 1
      if (left >= this.heap.length) return
      const right = left + 1
      const least = right < this.heap.length && this.heap[right]!.count < this.heap[left]!.count ? right : left
      if (this.heap[at]!.count <= this.heap[least]!.count) return
      this.swap(at, least)
      at = least
    }
  }
}
