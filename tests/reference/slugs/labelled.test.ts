import { describe, expect, it } from 'vitest'
import { Survey } from '../../../core/conflicts'
import { surveyDomain, surveyLink } from '../../unit/conflicts/rows'
import { LABELLED } from './pairs'

/** What the finders say of a pair, on a domain of its own where capitals matter. */
function isReported(a: string, b: string): boolean {
  const survey = new Survey()
  survey.load(
    [surveyDomain({ capitalsMatter: true })],
    [
      surveyLink({ id: 1, slug: a, destination: 'https://one.example/' }),
      surveyLink({ id: 2, slug: b, destination: 'https://two.example/' }),
    ],
    [],
    0,
  )
  survey.scanAll()
  return [...survey.conflicts].some(({ kind }) => kind === 'look-alike' || kind === 'one-slip')
}

describe('slugs that could be taken for each other, on pairs labelled by hand', () => {
  const judged = LABELLED.map((pair) => ({ ...pair, reported: isReported(pair.a, pair.b) }))
  const count = (confused: boolean, reported: boolean) =>
    judged.filter((pair) => pair.confused === confused && pair.reported === reported).length
  const [hits, misses, alarms] = [count(true, true), count(true, false), count(false, true)]
  const [precision, recall] = [hits / (hits + alarms), hits / (hits + misses)]

  it('has at least 300 of them, no pair twice', () => {
    expect(LABELLED.length).toBeGreaterThanOrEqual(300)
    expect(new Set(LABELLED.map(({ a, b }) => [a, b].sort().join(' '))).size).toBe(LABELLED.length)
  })

  it('finds most and raises few false alarms', () => {
    process.stdout.write(
      `look-alikes and slips on ${LABELLED.length} labelled pairs: precision ${precision.toFixed(3)}, ` +
        `recall ${recall.toFixed(3)}\n`,
    )
    const wrong = judged
      .filter((pair) => pair.confused !== pair.reported)
      .map(({ a, b, confused }) => `${a} ${b} ${confused ? 'missed' : 'false alarm'}`)
    expect(precision, wrong.join('; ')).toBeGreaterThan(0.95)
    expect(recall, wrong.join('; ')).toBeGreaterThan(0.9)
  })

  it('never reports stop/4417 against stop/4418', () => expect(isReported('stop/4417', 'stop/4418')).toBe(false))
})
