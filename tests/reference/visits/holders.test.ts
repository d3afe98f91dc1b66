import CachePolicy from 'http-cache-semantics'
import { describe, expect, it } from 'vitest'
import { holdersOf, type PermanentAnswer } from '../../../core/visits'
import { seeded } from '../../../server/database/seed/chance'

// Source: RFC 9111 §4.2 (freshness), by the independent implementation `http-cache-semantics` as a browser's private
// cache: 5,000 visitors with a cache each, who come back now and then and ask again only when theirs is stale.
const VISITORS = 5000
const HOUR = 3_600_000
const START = Date.UTC(2026, 10, 20)

let clock = START
class Policy extends CachePolicy {
  now() {
    return clock
  }
}
const REQUEST = { url: 'https://ansl.example/fares', method: 'GET', headers: {} }
const keep = (maxAgeSeconds: number) =>
  new Policy(REQUEST, { status: 301, headers: { 'cache-control': `max-age=${maxAgeSeconds}` } }, { shared: false })

interface Visitor {
  name: string
  cache: CachePolicy | undefined
  old: boolean
}

/** Lets visitors come and go over some days, with a change of the link at `changedAt`; gives what the gateway saw. */
function simulate(window: number, changedAt: number, until: number, seed: number) {
  const random = seeded(seed)
  const visitors: Visitor[] = Array.from({ length: VISITORS }, (_, index) => ({
    name: `v${index}`,
    cache: undefined,
    old: false,
  }))
  const comings = visitors
    .flatMap((visitor) =>
      Array.from({ length: Math.floor(random() * 6) }, () => ({
        visitor,
        at: START + Math.floor(random() * (until - START)),
      })),
    )
    .sort((a, b) => a.at - b.at)
  const answers: PermanentAnswer[] = []
  return { visitors, comings, answers, window, changedAt }
}

const holds = (visitor: Visitor) => visitor.old && visitor.cache!.satisfiesWithoutRevalidation(REQUEST)

describe('who still holds an old permanent answer', () => {
  it.each([
    [86_400, 1],
    [3600, 2],
    [604_800, 3],
  ])('is what caches of browsers hold, at every moment, with a window of %i s', (window, seed) => {
    const changedAt = START + 40 * HOUR
    const { visitors, comings, answers } = simulate(window, changedAt, START + 300 * HOUR, seed)
    const moments = Array.from({ length: 40 }, (_, index) => changedAt + index * 5 * HOUR + 1)
    let next = 0
    for (const moment of moments) {
      for (; next < comings.length && comings[next]!.at <= moment; next++) {
        const { visitor, at } = comings[next]!
        clock = at
        if (visitor.cache?.satisfiesWithoutRevalidation(REQUEST)) continue
        // The gateway is asked: it answers as the link is by then.
        visitor.cache = keep(window)
        visitor.old = at <= changedAt
        if (visitor.old) answers.push({ at, visitor: visitor.name, maxAgeSeconds: window })
      }
      clock = moment
      const told = holdersOf(answers, changedAt, moment)
      expect(told.now, new Date(moment).toISOString()).toBe(visitors.filter(holds).length)
      // Nobody comes to hold an old answer after the change, so the curve of this moment is what later moments find.
      for (const point of told.curve.filter((_, index) => index % 12 === 0)) {
        clock = point.at
        expect(point.holders).toBe(visitors.filter(holds).length)
      }
      if (told.until !== undefined) expect(told.until).toBeLessThanOrEqual(changedAt + window * 1000)
    }
    expect(holdersOf(answers, changedAt, changedAt + window * 1000).now).toBe(0)
    expect(holdersOf(answers, changedAt, changedAt + 1).now).toBeGreaterThan(0)
  })
})
