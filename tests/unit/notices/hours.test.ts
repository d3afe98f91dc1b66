import { describe, expect, it } from 'vitest'
import { digestDue, quietUntil, retryAt, WEBHOOK_RETRIES } from '../../../core/notices'

const LISBON = 'Europe/Lisbon'
const at = (iso: string) => new Date(iso)
const quiet = { quiet: true, quietFrom: 22, quietTo: 7 }

// Lisbon is UTC in winter and UTC+1 in summer; its clocks go forward on 29 March 2026 at 01:00 UTC and back on
// 25 October 2026 at 01:00 UTC (IANA time zone data, zone Europe/Lisbon).
describe('quietUntil', () => {
  it.each([
    ['outside them it goes at once', quiet, '2026-11-27T12:00:00Z', '2026-11-27T12:00:00Z'],
    ['before midnight it waits for the next morning', quiet, '2026-11-27T23:30:00Z', '2026-11-28T07:00:00Z'],
    ['after midnight it waits for this morning', quiet, '2026-11-28T03:00:00Z', '2026-11-28T07:00:00Z'],
    ['at their end it goes', quiet, '2026-11-28T07:00:00Z', '2026-11-28T07:00:00Z'],
    ['in summer by the summer clock', quiet, '2026-07-01T21:30:00Z', '2026-07-02T06:00:00Z'],
    ['over the night the clocks go forward', quiet, '2026-03-28T23:00:00Z', '2026-03-29T06:00:00Z'],
    ['over the night the clocks go back', quiet, '2026-10-24T22:00:00Z', '2026-10-25T07:00:00Z'],
    ['within a day', { quiet: true, quietFrom: 9, quietTo: 17 }, '2026-11-27T10:00:00Z', '2026-11-27T17:00:00Z'],
    [
      'none where both are one hour',
      { quiet: true, quietFrom: 7, quietTo: 7 },
      '2026-11-27T07:30:00Z',
      '2026-11-27T07:30:00Z',
    ],
    ['none where switched off', { ...quiet, quiet: false }, '2026-11-28T03:00:00Z', '2026-11-28T03:00:00Z'],
    [
      'an end that the clocks skip',
      { quiet: true, quietFrom: 22, quietTo: 1 },
      '2026-03-29T00:30:00Z',
      '2026-03-29T01:00:00Z',
    ],
  ])('%s', (_name, hours, now, until) => {
    expect(quietUntil(hours, LISBON, at(now)).toISOString()).toBe(at(until).toISOString())
  })
})

describe('digestDue', () => {
  const daily = { digest: 'daily' as const, digestHour: 8, digestWeekday: 1 }
  const weekly = { ...daily, digest: 'weekly' as const }
  it.each([
    ['today’s hour, once it has come', daily, '2026-11-27T08:00:00Z', '2026-11-27T08:00:00Z'],
    ['yesterday’s, before it', daily, '2026-11-27T07:59:59Z', '2026-11-26T08:00:00Z'],
    ['by the summer clock', daily, '2026-07-01T07:30:00Z', '2026-07-01T07:00:00Z'],
    [
      'an hour the clocks skip comes an hour later',
      { ...daily, digestHour: 1 },
      '2026-03-29T12:00:00Z',
      '2026-03-29T01:00:00Z',
    ],
    // 27 November 2026 is a Friday.
    ['the last Monday', weekly, '2026-11-27T12:00:00Z', '2026-11-23T08:00:00Z'],
    ['today, where it is the day', { ...weekly, digestWeekday: 5 }, '2026-11-27T12:00:00Z', '2026-11-27T08:00:00Z'],
    ['a week ago, before the hour', { ...weekly, digestWeekday: 5 }, '2026-11-27T07:00:00Z', '2026-11-20T08:00:00Z'],
  ])('is %s', (_name, wishes, now, due) => {
    expect(digestDue(wishes, LISBON, at(now))!.toISOString()).toBe(at(due).toISOString())
  })
  it('is never where none is wished', () => {
    expect(digestDue({ ...daily, digest: 'none' }, LISBON, at('2026-11-27T12:00:00Z'))).toBeUndefined()
  })
})

describe('retryAt', () => {
  it('waits longer after each try, and ends', () => {
    const now = at('2026-11-27T12:00:00Z')
    const waits = Array.from({ length: 11 }, (_, index) => {
      const next = retryAt(WEBHOOK_RETRIES, index + 1, now)
      return next && (next.getTime() - now.getTime()) / 1000
    })
    expect(waits.slice(0, 4)).toEqual([5, 300, 1800, 7200])
    expect(waits.at(-1)).toBeUndefined()
    const tried = waits.filter((wait) => wait !== undefined)
    expect(tried).toEqual([...tried].sort((a, b) => a - b))
  })
})
