/** A stretch of days of about the same level. */
export interface Level {
  /** Its first day, counted from the beginning of the series. */
  from: number
  /** To before this one. */
  to: number
  /** Visits a usual day: weekdays are taken out. */
  mean: number
}

/** A level lasts so many days at least, so that one odd day is none. */
const SHORTEST = 4

/**
 * Finds where the level of a series of daily counts changes, weekdays taken out: PELT (Killick, Fearnhead & Eckley
 * 2012) with the Poisson likelihood. `weekdayOf` tells the weekday of a day of the series, 0 to 6. A change costs
 * `penalty`; counts that spread more than Poisson's make it cost as much more.
 */
export function levelsOf(
  counts: readonly number[],
  weekdayOf: (day: number) => number,
  penalty = 5 * Math.log(Math.max(counts.length, 2)),
): Level[] {
  const length = counts.length
  if (length === 0) return []
  const season = weekdayShares(counts, weekdayOf)
  // Expected counts are level × season: of a stretch, the level is the sum of counts over the sum of seasons.
  const sums = new Float64Array(length + 1)
  const seasons = new Float64Array(length + 1)
  for (let day = 0; day < length; day++) {
    sums[day + 1] = sums[day]! + counts[day]!
    seasons[day + 1] = seasons[day]! + season[weekdayOf(day)]!
  }
  const cost = (from: number, to: number) => {
    const count = sums[to]! - sums[from]!
    const expected = seasons[to]! - seasons[from]!
    return count === 0 || expected === 0 ? 0 : 2 * (count - count * Math.log(count / expected))
  }
  const own = penalty * dispersionOf(counts, season, weekdayOf)
  const best = new Float64Array(length + 1).fill(Infinity)
  const last = new Int32Array(length + 1)
  best[0] = -own
  let candidates: number[] = [0]
  for (let to = SHORTEST; to <= length; to++) {
    let [least, at] = [Infinity, 0]
    for (const from of candidates) {
      if (to - from < SHORTEST) continue
      const sum = best[from]! + cost(from, to) + own
      if (sum < least) [least, at] = [sum, from]
    }
    best[to] = least
    last[to] = at
    // What cannot be the last change any more is let go: this keeps the search linear (§3 of the paper).
    candidates = candidates.filter((from) => to - from < SHORTEST || best[from]! + cost(from, to) <= best[to]!)
    candidates.push(to)
  }
  const levels: Level[] = []
  for (let to = length; to > 0;) {
    const from = length < SHORTEST ? 0 : last[to]!
    const expected = seasons[to]! - seasons[from]!
    levels.unshift({ from, to, mean: expected === 0 ? 0 : (sums[to]! - sums[from]!) / expected })
    to = from
  }
  return levels
}

/** How much of a usual day each weekday has: 1 on average. Medians of weeks, so that a change of level does no harm. */
function weekdayShares(counts: readonly number[], weekdayOf: (day: number) => number): number[] {
  const shares = Array.from({ length: 7 }, (): number[] => [])
  for (let start = 0; start + 7 <= counts.length; start++) {
    const week = counts.slice(start, start + 7)
    const mean = week.reduce((sum, count) => sum + count, 0) / 7
    if (mean === 0) continue
    // The middle day of each seven: a change of level leans on both its sides alike.
    shares[weekdayOf(start + 3)]!.push(week[3]! / mean)
  }
  const medians = shares.map((own) => medianOf(own) ?? 1)
  const sum = medians.reduce((all, one) => all + one, 0)
  // With few visits a median may be nothing: then there is no season to be seen.
  return sum === 0 || medians.includes(0) ? Array<number>(7).fill(1) : medians.map((one) => (one * 7) / sum)
}

function medianOf(values: readonly number[]): number | undefined {
  if (values.length < 2) return undefined
  const sorted = [...values].sort((a, b) => a - b)
  const middle = sorted.length >> 1
  return sorted.length % 2 === 1 ? sorted[middle] : (sorted[middle - 1]! + sorted[middle]!) / 2
}

/** How much more than Poisson's counts spread from one day to the next, weekdays taken out; 1 at least. */
function dispersionOf(
  counts: readonly number[],
  season: readonly number[],
  weekdayOf: (day: number) => number,
): number {
  const ratios: number[] = []
  for (let day = 1; day < counts.length; day++) {
    const [one, other] = [season[weekdayOf(day - 1)]!, season[weekdayOf(day)]!]
    const [a, b] = [counts[day - 1]! / one, counts[day]! / other]
    const level = (counts[day - 1]! + counts[day]!) / (one + other)
    if (level > 0) ratios.push((a - b) ** 2 / (level * (1 / one + 1 / other)))
  }
  if (ratios.length < 5) return 1
  ratios.sort((a, b) => a - b)
  // The mean of the lower nine tenths: jumps are what is sought, not spread. For Poisson's counts it is about 0.66.
  const kept = ratios.slice(0, Math.ceil(ratios.length * 0.9))
  return Math.max(1, kept.reduce((sum, ratio) => sum + ratio, 0) / kept.length / 0.66)
}
