import { Segment, type IndexedLink } from './segment'

/** After so many changes it should be made anew: what changed is gone through with each. */
const MAX_CHANGED = 1000
const NONE: ReadonlySet<number> = new Set()

/**
 * All links the ranking looks among, kept current: a large segment made once in a while, and a small one of what came
 * or changed since.
 */
export class LinkIndex {
  private readonly young = new Map<number, IndexedLink>()
  private youngSegment: Segment | undefined
  /** Ids whose place in the whole segment holds no more. */
  private readonly stale = new Set<number>()

  private constructor(private readonly whole: Segment) {}

  /** Makes an index at once. */
  static of(links: readonly IndexedLink[]): LinkIndex {
    return new LinkIndex(finish(Segment.make(links)))
  }

  /** Makes an index in steps, between which others have their turn; the last gives it. */
  static *make(links: readonly IndexedLink[]): Generator<undefined, LinkIndex> {
    return new LinkIndex(yield* Segment.make(links))
  }

  /** Puts a link as it is now. */
  put(link: IndexedLink): void {
    this.stale.add(link.id)
    this.young.set(link.id, link)
    this.youngSegment = undefined
  }

  /** Takes a link out. */
  drop(id: number): void {
    this.stale.add(id)
    this.young.delete(id)
    this.youngSegment = undefined
  }

  /** So much has changed that it should be made anew. */
  get isWorn(): boolean {
    return this.stale.size > MAX_CHANGED
  }
  get size(): number {
    return this.whole.size + this.young.size
  }
  get totalVisits(): number {
    return this.whole.totalVisits + (this.youngSegment?.totalVisits ?? 0)
  }
  /** Octets its arrays take. */
  get bytes(): number {
    return this.whole.bytes + (this.youngSegment?.bytes ?? 0)
  }

  /** The segments to look in, with the ids that count no more in each. */
  segments(): readonly { segment: Segment; stale: ReadonlySet<number> }[] {
    if (this.young.size === 0) return [{ segment: this.whole, stale: this.stale }]
    this.youngSegment ??= finish(Segment.make([...this.young.values()]))
    return [
      { segment: this.whole, stale: this.stale },
      { segment: this.youngSegment, stale: NONE },
    ]
  }
}

function finish<Result>(steps: Generator<undefined, Result>): Result {
  for (;;) {
    const { done, value } = steps.next()
    if (done) return value
  }
}
