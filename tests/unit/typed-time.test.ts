import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { durationWords, readTypedDuration } from '../../core/time/typed-duration'
import { momentWords, readTypedMoment } from '../../core/time/typed-moment'

const now = new Date('2026-12-01T23:30:00Z')
const lisbon = { zone: 'Europe/Lisbon', now }

describe('a date as it is typed', () => {
  it.each([
    ['2027-05-01', '2027-05-01T00:00'],
    ['2027-05-01 07:30', '2027-05-01T07:30'],
    ['Thu 19 Nov 2026, 06:12', '2026-11-19T06:12'],
    ['19 nov', '2027-11-19T00:00'],
    ['31.12.2027', '2027-12-31T00:00'],
    ['12/11/2026', '2026-11-12T00:00'],
    ['tomorrow 9:00', '2026-12-02T09:00'],
    ['tomorrow at 9', '2026-12-02T09:00'],
    ['in 3 days', '2026-12-04T00:00'],
    ['1 March 2027 noon', '2027-03-01T12:00'],
    ['next monday', '2026-12-07T00:00'],
  ])('%s is %s', (typed, value) => expect(readTypedMoment(typed, { kind: 'moment', ...lisbon })?.value).toBe(value))

  it('is of the past where dates are of the past', () => {
    const past = { kind: 'day', ...lisbon, isPast: true } as const
    expect(readTypedMoment('24 dec', past)?.value).toBe('2025-12-24')
    expect(readTypedMoment('19 nov', past)?.value).toBe('2026-11-19')
    expect(readTypedMoment('24 dec 2027', past)?.value).toBe('2027-12-24')
  })

  it('is of the day it is in the zone', () => {
    expect(readTypedMoment('today', { kind: 'day', ...lisbon })?.value).toBe('2026-12-01')
    expect(readTypedMoment('today', { kind: 'day', zone: 'Asia/Tokyo', now })?.value).toBe('2026-12-02')
  })

  it.each(['', 'soon', '99', 'from monday to friday', 'call Ann tomorrow', '2027-02-30', '40 nov', '3026-01-01'])(
    'is not guessed: %s',
    (typed) => expect(readTypedMoment(typed, { kind: 'day', ...lisbon })).toBeUndefined(),
  )

  it('is read again as it is shown', () => {
    const days = fc.date({ min: new Date('1950-01-01'), max: new Date('2150-01-01'), noInvalidDate: true })
    fc.assert(
      fc.property(days, (day) => {
        const value = day.toISOString().slice(0, 16)
        const read = readTypedMoment(momentWords(value, 'moment'), { kind: 'moment', ...lisbon })
        expect(read?.value).toBe(value)
      }),
    )
  })
})

describe('a duration as it is typed', () => {
  it.each([
    ['7 days', 604_800],
    ['1 day 12 hours', 129_600],
    ['1.5 h', 5400],
    ['90 min', 5400],
    ['2w', 1_209_600],
    ['1 hour and 5 minutes', 3900],
    ['0', 0],
    ['86,400 s', 86_400],
  ])('%s is %i seconds', (typed, seconds) => expect(readTypedDuration(typed)).toBe(seconds))

  it.each(['', '86400', 'long', 'days', '5 dayz', '-3 days', '5 days or so'])('is not guessed: %s', (typed) =>
    expect(readTypedDuration(typed)).toBeUndefined(),
  )

  it('is read again as it is shown', () => {
    fc.assert(
      fc.property(fc.nat(40_000_000), (seconds) => {
        expect(readTypedDuration(durationWords(seconds))).toBe(seconds)
      }),
    )
    expect(durationWords(86_400)).toBe('1 day')
    expect(durationWords(90_061)).toBe('1 day 1 hour 1 minute 1 second')
  })
})
