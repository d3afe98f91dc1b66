import { expect, it } from 'vitest'
import { fuzzAnswers } from './fuzz'

/** `npm run test:answers` has 20,000. */
const COUNT = Number(process.env.FIDES_ANSWERS ?? 600)

it(`judges ${COUNT.toLocaleString('en')} bent answers, and is neither ended nor held up by one`, async () => {
  const result = await fuzzAnswers(COUNT, 20_262)
  process.stdout.write(`${JSON.stringify(result)}\n`)
  const { answers, unjudged, late, verdicts } = result
  expect({ answers, unjudged, late }).toEqual({ answers: COUNT, unjudged: 0, late: 0 })
  expect(Object.keys(verdicts).length).toBeGreaterThan(4)
}, 3_600_000)
