/**
 * Odds of random slugs (semantics §2). N is how many there could be, n how many are taken; N may be far beyond what an
 * integer can hold exactly, for which a double's 53 bits are enough.
 */

/** Chance that one random draw meets one of `taken` slugs: n/N. */
export const chanceTaken = (taken: number, capacity: number): number => Math.min(1, taken / capacity)

/** How many guesses a stranger needs for each hit, on average, without trying one twice: (N+1)/(n+1). */
export const guessesPerHit = (taken: number, capacity: number): number => (capacity + 1) / (taken + 1)

const SUMMED = 200_000

/**
 * The birthday problem: the chance that any two of `draws` random slugs are the same, 1 − Π(1 − i/N), and the chance
 * that none are, which stays exact where the first is too near 1 to be told apart from it.
 */
export function chanceOfCollision(draws: number, capacity: number): { any: number; none: number } {
  if (draws <= 1) return { any: 0, none: 1 }
  if (draws > capacity) return { any: 1, none: 0 }
  const logNone = draws <= SUMMED ? summed(draws, capacity) : series(draws, capacity)
  return { any: -Math.expm1(logNone), none: Math.exp(logNone) }
}

function summed(draws: number, capacity: number): number {
  let sum = 0
  for (let drawn = 1; drawn < draws; drawn++) sum += Math.log1p(-drawn / capacity)
  return sum
}

/** Σ ln(1 − i/N) by its power series with Faulhaber's sums; beyond k/N = 0.2 so many draws collide for certain. */
function series(draws: number, capacity: number): number {
  if (draws / capacity > 0.2) return -Infinity
  let total = 0
  for (let power = 1; power <= 30; power++) {
    // Euler–Maclaurin for Σ i^p, i < k: k^(p+1)/(p+1) − k^p/2 + p·k^(p−1)/12; with k beyond 200,000 the rest is lost in
    // rounding.
    const ratio = draws / capacity
    const sum = ratio ** power * (draws / (power + 1) - 1 / 2 + power / (12 * draws))
    total -= sum / power
    if (sum < 1e-18 * Math.abs(total)) break
  }
  return total
}

/** What an administrator wants of random slugs. */
export interface OddsBounds {
  /** Chance at most that one draw is taken. */
  taken: number
  /** Chance at most that any two of the next draws are the same. */
  collision: number
  /** Guesses at least for each hit of a stranger. */
  guesses: number
}

export interface Odds {
  length: number
  /** How many slugs of this length there are: a^L. */
  capacity: number
  taken: number
  collision: number
  guesses: number
}

/**
 * The three figures for random slugs of `length` characters from an alphabet of `size`, with `n` taken and `next` to
 * come.
 */
export function oddsOf(size: number, length: number, n: number, next: number): Odds {
  const capacity = size ** length
  return {
    length,
    capacity,
    taken: chanceTaken(n, capacity),
    collision: chanceOfCollision(next, capacity).any,
    guesses: guessesPerHit(n, capacity),
  }
}

/** The shortest length up to `most` that keeps all bounds; `undefined` where none does. */
export function recommendLength(
  size: number,
  n: number,
  next: number,
  bounds: OddsBounds,
  most = 64,
): Odds | undefined {
  for (let length = 1; length <= most; length++) {
    const odds = oddsOf(size, length, n, next)
    if (odds.taken <= bounds.taken && odds.collision <= bounds.collision && odds.guesses >= bounds.guesses) return odds
  }
  return undefined
}
