import { describe, expect, it } from 'vitest'
import { readServed } from '../../../server/names/certificate'

const sound = {
  subject: { CN: 'rider.example' },
  issuer: { O: 'Harbour Test Authority' },
  subjectaltname: 'DNS:rider.example, IP Address:192.0.2.1, DNS:www.rider.example',
  valid_from: 'Jan  1 00:00:00 2026 GMT',
  valid_to: 'Jan  1 00:00:00 2126 GMT',
}
const read = (more: object, code?: string) => readServed('rider.example', { ...sound, ...more } as never, code)

describe('what a served certificate says', () => {
  it('is told with its names and dates', () =>
    expect(read({})).toMatchObject({
      answered: true,
      names: ['rider.example', 'www.rider.example'],
      validTo: '2126-01-01T00:00:00.000Z',
      fault: null,
      sentence: 'rider.example serves a certificate by Harbour Test Authority, good until 2126-01-01.',
    }))

  it.each(['Bad time value', 'Dec 31 23:59:60 269913 GMT', '', undefined, null, {}, Number.NaN, '99999999999999Z'])(
    'with a date of %j has a fault and no date, and nothing is thrown',
    (date) => {
      for (const given of [read({ valid_to: date }), read({ valid_from: date })]) {
        expect(given.fault).toBe('its dates cannot be read')
        expect(given.sentence).toContain('browsers refuse')
        expect([given.validFrom, given.validTo]).toContain(null)
      }
    },
  )

  it('holds nothing it does not say', () => {
    const nothing = readServed('rider.example', {}, 'CERT_HAS_EXPIRED')
    expect(nothing).toMatchObject({ subject: '', issuer: '', names: [], validTo: null, fault: 'it has expired' })
    const several = read({ subject: { CN: ['a.example', 'b.example'] }, issuer: null, subjectaltname: 5 })
    expect(several).toMatchObject({ subject: 'a.example', issuer: '', names: [] })
    expect(read({}, 'SOMETHING_NEW').fault).toBe('browsers refuse it (SOMETHING_NEW)')
  })
})
