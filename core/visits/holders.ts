/** A permanent answer somebody was given: browsers may go by it for its time (RFC 9111 §4.2). */
export interface PermanentAnswer {
  /** Milliseconds. */
  at: number
  visitor: string
  /** How long it may be kept, in seconds. */
  maxAgeSeconds: number
}

/** Who still holds an old permanent answer, over time. */
export interface Holders {
  /** How many hold it at the moment asked about. */
  now: number
  /** When the last of them lets it go, in milliseconds; `undefined` where nobody holds it. */
  until: number | undefined
  /** From the moment asked about to the last one's: how many hold it then. */
  curve: { at: number; holders: number }[]
}

const POINTS = 48

/**
 * Who still goes by an answer that was given until `changedAt`, as of `now` (semantics §1): each visitor holds the last
 * one they were given until its time is over. The curve falls to zero.
 */
export function holdersOf(answers: Iterable<PermanentAnswer>, changedAt: number, now: number): Holders {
  const ends = new Map<string, number>()
  for (const { at, visitor, maxAgeSeconds } of answers) {
    if (at > changedAt) continue
    ends.set(visitor, Math.max(ends.get(visitor) ?? 0, at + maxAgeSeconds * 1000))
  }
  const sorted = Float64Array.from(ends.values()).sort()
  const heldAt = (moment: number) => sorted.length - countUpTo(sorted, moment)
  const last = sorted.at(-1)
  const until = last !== undefined && last > now ? last : undefined
  const curve =
    until === undefined
      ? []
      : Array.from({ length: POINTS + 1 }, (_, point) => {
          const at = point === POINTS ? until : Math.round(now + ((until - now) * point) / POINTS)
          return { at, holders: heldAt(at) }
        })
  return { now: heldAt(now), until, curve }
}

/** How many of sorted numbers are at most `limit`: a copy whose time is over at a moment is no longer fresh then. */
function countUpTo(sorted: Float64Array, limit: number): number {
  let [low, high] = [0, sorted.length]
  while (low < high) {
    const middle = (low + high) >> 1
    if (sorted[middle]! <= limit) low = middle + 1
    else high = middle
  }
  return low
}
