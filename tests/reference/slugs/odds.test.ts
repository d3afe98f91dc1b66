import { describe, expect, it } from 'vitest'
import {
  alphabetSize,
  capacityOf,
  chanceOfCollision,
  chanceTaken,
  guessesPerHit,
  oddsOf,
  OPEN_RULES,
  recommendLength,
} from '../../../core/slugs'

// "Birthday problem", table of probabilities p(n) for 365 days, as printed in many handbooks (W. Feller, An
// Introduction to Probability Theory and Its Applications, vol. 1, §II.3, table 3: p for 4 to 60 people); values from
// memory.
const FELLER: [people: number, chance: number][] = [
  [4, 0.016],
  [8, 0.074],
  [12, 0.167],
  [16, 0.284],
  [20, 0.411],
  [22, 0.476],
  [23, 0.507],
  [24, 0.538],
  [28, 0.654],
  [32, 0.753],
  [40, 0.891],
  [48, 0.961],
  [56, 0.988],
]

// "Birthday attack", table of how many hashes of so many bits give a collision with a chance of p (M. Bellare & T.
// Kohno, Hash Function Balance and its Impact on Birthday Attacks, EUROCRYPT 2004; the table of the general literature;
// from memory).
const HASHES: [bits: number, draws: number, chance: number][] = [
  [16, 300, 0.5],
  [32, 77_000, 0.5],
  [32, 110_000, 0.75],
  [32, 9300, 0.01],
  [64, 5.1e9, 0.5],
  [64, 6.1e8, 0.01],
  [128, 2.2e19, 0.5],
]

describe('the birthday problem', () => {
  it.each(FELLER)('%i people: %f (Feller)', (people, chance) =>
    expect(chanceOfCollision(people, 365).any).toBeCloseTo(chance, 3),
  )

  // The table gives two figures of the number of draws, so the chance is met within what half of the last figure makes.
  it.each(HASHES)('%i bits, %d draws: %f', (bits, draws, chance) => {
    const { any } = chanceOfCollision(draws, 2 ** bits)
    expect(any).toBeGreaterThan(chance * 0.93)
    expect(any).toBeLessThan(Math.min(1, chance * 1.07))
  })

  // The check values of the product's semantics, §2.
  it('meets the check values', () => {
    expect(chanceOfCollision(23, 365).any).toBeCloseTo(0.5073, 4)
    expect(chanceOfCollision(1e6, 16 ** 8).none).toBeCloseTo(2.7e-51, 52)
    expect(chanceOfCollision(1e6, 16 ** 8).none / 2.7e-51).toBeCloseTo(1, 1)
    expect(chanceOfCollision(1e6, 64 ** 11).any / 6.776e-9).toBeCloseTo(1, 3)
    expect(chanceOfCollision(50_000, 31 ** 7).any).toBeCloseTo(0.0444, 4)
  })

  it('is the same summed and by its series, where one takes over from the other', () => {
    for (const capacity of [2e8, 1e10, 1e12]) {
      let log = 0
      for (let drawn = 1; drawn < 300_000; drawn++) log += Math.log1p(-drawn / capacity)
      expect(Math.log(chanceOfCollision(300_000, capacity).none) / log).toBeCloseTo(1, 9)
    }
  })

  it('is certain beyond the capacity, and nothing for one draw', () => {
    expect(chanceOfCollision(366, 365)).toEqual({ any: 1, none: 0 })
    expect(chanceOfCollision(1, 10)).toEqual({ any: 0, none: 1 })
  })
})

describe('one draw and guesses', () => {
  // The mean of the least of n marked places among N is (N+1)/(n+1) (negative hypergeometric distribution; N. Johnson,
  // A. Kemp & S. Kotz, Univariate Discrete Distributions, §6.2.2). Counted out here for small N.
  it('takes (N+1)/(n+1) guesses a hit', () => {
    const [capacity, taken] = [9, 3]
    let sum = 0
    let ways = 0
    for (let set = 0; set < 2 ** capacity; set++) {
      const places = Array.from({ length: capacity }, (_, at) => at).filter((at) => set & (1 << at))
      if (places.length !== taken) continue
      ways++
      sum += places[0]! + 1
    }
    expect(sum / ways).toBeCloseTo(guessesPerHit(taken, capacity), 10)
  })
  it('meets a taken one with n/N', () => expect(chanceTaken(311, 31 ** 5)).toBeCloseTo(311 / 28_629_151, 12))

  it('recommends the shortest length that keeps every bound', () => {
    const bounds = { taken: 0.001, collision: 0.01, guesses: 1000 }
    for (const [size, n, next] of [
      [31, 1200, 1000],
      [62, 100_000, 10_000],
      [10, 10, 10],
    ] as const) {
      const found = recommendLength(size, n, next, bounds)!
      const keeps = (length: number) => {
        const odds = oddsOf(size, length, n, next)
        return odds.taken <= bounds.taken && odds.collision <= bounds.collision && odds.guesses >= bounds.guesses
      }
      expect(keeps(found.length)).toBe(true)
      expect(keeps(found.length - 1)).toBe(false)
    }
    expect(recommendLength(1, 5, 5, bounds)).toBeUndefined()
  })
})

describe('capacity', () => {
  it('is a^L for one length without separators', () => {
    expect(
      capacityOf(
        { ...OPEN_RULES, alphabet: 'unmistakable', separators: '', depth: 1, minLength: 7, maxLength: 7 },
        true,
      ),
    ).toBe(31n ** 7n)
  })
  it('is what counting out small rules gives', () => {
    const rules = {
      ...OPEN_RULES,
      alphabet: 'own' as const,
      ownAlphabet: 'ab',
      separators: '-',
      depth: 2,
      minLength: 1,
      maxLength: 6,
    }
    const all = (length: number): string[] =>
      length === 0 ? [''] : all(length - 1).flatMap((text) => [...'ab-/'].map((character) => text + character))
    let count = 0
    for (let length = 1; length <= 6; length++)
      for (const text of all(length)) if (/^[ab]+(?:-[ab]+)*(?:\/[ab]+(?:-[ab]+)*)?$/.test(text)) count++
    expect(capacityOf(rules, true)).toBe(BigInt(count))
  })
  it('counts capitals once where they do not matter', () => {
    expect([
      alphabetSize({ ...OPEN_RULES, randomUnmistakable: false }, true),
      alphabetSize({ ...OPEN_RULES, randomUnmistakable: false }, false),
      alphabetSize(OPEN_RULES, false),
    ]).toEqual([62, 36, 31])
  })
})
