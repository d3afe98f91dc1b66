import { DateTime } from 'luxon'
import { describe, expect, it } from 'vitest'
import { Calendar, calendarOf, dayOfText, dayText, firstDayOf } from '../../../core/visits'

const at = (text: string) => Date.parse(text)
// Clocks that are set at midnight, by half an hour, in the southern spring, and offsets of 45 minutes (IANA data).
const ZONES = ['UTC', 'Europe/Lisbon', 'America/Santiago', 'Australia/Lord_Howe', 'Asia/Kathmandu', 'Asia/Beirut']

describe('the calendar of a zone', () => {
  it.each(ZONES)('%s reads days and hours as another library does, through a whole year', (zone) => {
    const calendar = new Calendar(zone)
    for (let moment = at('2026-01-01T00:00:00Z'); moment < at('2027-01-01T00:00:00Z'); moment += 900_000 * 7) {
      const local = DateTime.fromMillis(moment, { zone })
      expect(calendar.offsetAt(moment), local.toISO()!).toBe(local.offset * 60_000)
      expect(dayText(calendar.dayAt(moment))).toBe(local.toISODate())
      expect(calendar.hourOfWeekAt(moment)).toBe((local.weekday - 1) * 24 + local.hour)
      for (const step of ['day', 'week', 'month'] as const)
        expect(calendar.startOf(step, moment), `${step} of ${local.toISO()}`).toBe(local.startOf(step).toMillis())
    }
  })

  it('tells the steps of a period, each once, also where clocks are set', () => {
    const calendar = calendarOf('Europe/Lisbon')
    // On 25 October 2026 clocks go back from 2 to 1: that day has 25 hours (EU summer time, Directive 2000/84/EC).
    const [from, to] = [at('2026-10-24T23:00:00Z'), at('2026-10-26T00:00:00Z')]
    expect(calendar.steps('day', from, to).map((start) => new Date(start).toISOString())).toEqual([
      '2026-10-24T23:00:00.000Z',
    ])
    expect(calendar.steps('hour', from, to)).toHaveLength(25)
    expect(calendar.steps('quarter', from, to)).toHaveLength(100)
    expect(calendarOf('America/Santiago').steps('day', at('2026-09-05T04:00:00Z'), at('2026-09-07T03:00:00Z'))).toEqual(
      [at('2026-09-05T04:00:00Z'), at('2026-09-06T04:00:00Z')],
    )
    const months = calendar.steps('month', at('2026-01-15T12:00:00Z'), at('2026-04-01T00:00:00Z'))
    expect(months.map((start) => new Date(start).toISOString())).toEqual([
      '2026-01-01T00:00:00.000Z',
      '2026-02-01T00:00:00.000Z',
      '2026-03-01T00:00:00.000Z',
      '2026-03-31T23:00:00.000Z',
    ])
  })

  it('begins weeks on Monday (ISO 8601) and months on their first', () => {
    expect(dayText(firstDayOf('week', dayOfText('2026-11-29')))).toBe('2026-11-23')
    expect(dayText(firstDayOf('week', dayOfText('2026-11-23')))).toBe('2026-11-23')
    expect(dayText(firstDayOf('month', dayOfText('2026-02-28')))).toBe('2026-02-01')
  })
})
