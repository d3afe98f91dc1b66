import { describe, expect, it } from 'vitest'
import {
  advance,
  intervalMs,
  isCase,
  spread,
  type Judged,
  type Standing,
  type VerdictName,
} from '../../../core/targets'

const HOUR = 3_600_000
const PATIENCE = { checks: 3, overMs: 2 * HOUR }
const judged = (verdict: VerdictName): Judged => ({ verdict, sentence: `${verdict}.`, facts: [], final: null })

/** Runs checks, each [hours, verdict], and gives how the target stood after each. */
function run(checks: readonly (readonly [number, VerdictName])[]): Standing[] {
  let standing: Standing | null = null
  return checks.map(([hours, verdict]) => (standing = advance(standing, judged(verdict), hours * HOUR, PATIENCE)))
}
const brief = (standings: Standing[]) => standings.map(({ confidence, failures }) => `${confidence} ${failures}`)

describe('how a target stands after its checks', () => {
  it('is in doubt after one failure, and broken after three over two hours', () =>
    expect(
      brief(
        run([
          [0, 'sound'],
          [1, 'not-found'],
          [1.2, 'not-found'],
          [2.2, 'not-found'],
          [3.1, 'not-found'],
        ]),
      ),
    ).toEqual(['sound 0', 'doubtful 1', 'doubtful 2', 'doubtful 3', 'broken 4']))
  it('opens no case for one bad minute', () => {
    const stood = run([
      [0, 'no-answer'],
      [0.01, 'no-answer'],
      [0.02, 'no-answer'],
      [0.03, 'no-answer'],
    ])
    expect(stood.map((standing, index) => isCase(standing, index * 0.01 * HOUR, PATIENCE))).toEqual(
      Array(4).fill(false),
    )
  })
  it('counts failures of whatever kind together, and says since when it stands as it does', () => {
    const stood = run([
      [0, 'no-answer'],
      [1, 'server-error'],
      [3, 'server-error'],
    ]).at(-1)!
    expect(stood).toMatchObject({ verdict: 'server-error', confidence: 'broken', failures: 3, failingSince: 0 })
    expect(isCase(stood, 3 * HOUR, PATIENCE)).toBe(true)
  })
  it('calls nothing broken that is a doubt at worst', () =>
    expect(
      run([
        [0, 'refused'],
        [2, 'refused'],
        [9, 'refused'],
      ]).at(-1)!.confidence,
    ).toBe('doubtful'))
  it('tells what comes and goes as that, and forgets it when it stays', () => {
    const turning = run(
      Array.from({ length: 8 }, (_, index) => [index, index % 2 ? 'server-error' : 'sound'] as const),
    ).at(-1)!
    expect(turning).toMatchObject({ flapping: true, confidence: 'doubtful', verdict: 'server-error' })
    expect(turning.sentence).toMatch(/^Intermittent: 4 of the last 8 checks failed\./)
    expect(isCase(turning, 8 * HOUR, PATIENCE)).toBe(true)
    let standing: Standing | null = turning
    for (let hour = 9; hour < 40; hour++) standing = advance(standing, judged('sound'), hour * HOUR, PATIENCE)
    expect(standing).toMatchObject({ flapping: false, confidence: 'sound', verdict: 'sound' })
  })
  it('is sound again at the first answer, and counts anew', () =>
    expect(
      brief(
        run([
          [0, 'parked'],
          [1, 'parked'],
          [3, 'parked'],
          [4, 'sound'],
          [5, 'parked'],
        ]),
      ),
    ).toEqual(['doubtful 1', 'doubtful 2', 'broken 3', 'sound 0', 'doubtful 1']))
})

describe('when a target is asked again', () => {
  const DAY = 24 * HOUR
  const at = (visitsADay: number, standing: Standing | null = null, age = 60 * DAY) =>
    intervalMs({ standing, visitsADay, since: -age, now: 0 })
  it('is hourly where many visit, weekly where nobody does', () => {
    expect([at(500), at(24), at(1), at(0)]).toEqual([HOUR, HOUR, DAY, 7 * DAY])
    for (let visits = 0; visits < 60; visits += 0.5) expect(at(visits + 0.5)).toBeLessThanOrEqual(at(visits))
  })
  it('is sooner while it is new, and soon while it is in doubt', () => {
    expect(at(0, null, HOUR)).toBeLessThan(at(0))
    const doubtful = run([[0, 'not-found']])[0]!
    expect(at(0, doubtful)).toBeLessThanOrEqual(10 * 60_000)
  })
  it('is never left for more than a day once broken', () => {
    const broken = run(Array.from({ length: 30 }, (_, index) => [index * 5, 'not-found'] as const)).at(-1)!
    expect(at(0, broken)).toBe(DAY)
  })
  it('is spread by a fifth to either side', () =>
    expect([spread(1000, 0), spread(1000, 0.5), spread(1000, 0.999)]).toEqual([800, 1000, 1200]))
})
