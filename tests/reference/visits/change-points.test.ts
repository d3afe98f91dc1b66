// PELT: Killick, R., Fearnhead, P. and Eckley, I. A. (2012), Optimal detection of changepoints with a linear
// computational cost, JASA 107(500). Series are generated with known breaks: Poisson counts with a weekly season.
import { describe, expect, it } from 'vitest'
import { levelsOf } from '../../../core/visits/change-points'
import { seeded } from '../../../server/database/seed/chance'

const random = seeded(2012)
/** Poisson by Knuth’s product of uniforms (The Art of Computer Programming 2, §3.4.1), in parts of 30. */
function poisson(mean: number): number {
  if (mean > 30) return poisson(30) + poisson(mean - 30)
  const limit = Math.exp(-mean)
  let count = 0
  for (let product = random(); product > limit; product *= random()) count++
  return count
}
const SEASON = [1.1, 1.15, 1.15, 1.1, 1.2, 0.7, 0.6]
const weekday = (day: number) => day % 7
const series = (days: number, meanOf: (day: number) => number) =>
  Array.from({ length: days }, (_, day) => poisson(meanOf(day) * SEASON[weekday(day)]!))

describe('change points', () => {
  it.each([
    [30, 1.6],
    [30, 0.5],
    [100, 1.4],
    [100, 0.7],
    [12, 2.5],
    [500, 1.2],
  ])('of %i visits a day that become %f times as many are found within a day in nine of ten', (mean, factor) => {
    const RUNS = 120
    let found = 0
    for (let run = 0; run < RUNS; run++) {
      const at = 20 + Math.floor(random() * 50)
      const levels = levelsOf(
        series(90, (day) => (day >= at ? mean * factor : mean)),
        weekday,
      )
      if (levels.some(({ from }) => from > 0 && Math.abs(from - at) <= 1)) found++
    }
    expect(found / RUNS).toBeGreaterThanOrEqual(0.9)
  })

  it.each([1, 5, 20, 100, 1000])('are told where there are none at most once a year and link, at %i a day', (mean) => {
    const RUNS = 60
    let told = 0
    for (let run = 0; run < RUNS; run++)
      told +=
        levelsOf(
          series(365, () => mean),
          weekday,
        ).length - 1
    expect(told / RUNS).toBeLessThanOrEqual(1)
  })

  it('tell the level of each stretch, weekdays taken out', () => {
    const levels = levelsOf(
      series(120, (day) => (day < 60 ? 200 : 100)),
      weekday,
    )
    expect(levels).toHaveLength(2)
    expect(levels[0]!.mean / 200).toBeCloseTo(1, 1)
    expect(levels[1]!.mean / 100).toBeCloseTo(1, 1)
  })

  it('find two breaks, one after the other', () => {
    const levels = levelsOf(
      series(140, (day) => (day < 50 ? 40 : day < 95 ? 90 : 55)),
      weekday,
    )
    expect(levels.map(({ from }) => from)).toHaveLength(3)
    expect(Math.abs(levels[1]!.from - 50)).toBeLessThanOrEqual(1)
    expect(Math.abs(levels[2]!.from - 95)).toBeLessThanOrEqual(1)
  })

  it.each([
    [[], []],
    [[3], [0]],
    [[0, 0, 0, 0, 0, 0, 0, 0], [0]],
  ])('of %j are none', (counts, froms) => expect(levelsOf(counts, weekday).map(({ from }) => from)).toEqual(froms))
})
