import { describe, expect, it } from 'vitest'
import { findServerTroubles, serverLabel, serversSeen, type Observation, type ZoneServer } from '../../../core/dns'

const MINUTE = 60_000
const soa = (serial: number, primary = 'ns1.rider.test.') =>
  `${primary} hostmaster.rider.test. ${serial} 600 60 86400 900`
const seen = (server: string, more: Partial<Observation> = {}): Observation => ({
  role: 'authority',
  server,
  name: 'rider.test.',
  type: 'SOA',
  status: 'answered',
  data: [soa(7)],
  ttl: 3600,
  firstAt: 0,
  at: 60 * MINUTE,
  ...more,
})
const gone = (server: string, status: Observation['status'], more: Partial<Observation> = {}) =>
  seen(server, { status, data: [], ttl: null, ...more })
const SERVERS: ZoneServer[] = [
  { name: 'ns1.rider.test', addresses: ['192.0.2.1'] },
  { name: 'ns2.rider.test', addresses: ['192.0.2.2', '2001:db8::2'] },
]
const [ONE, TWO, SIX] = ['ns1.rider.test', 'ns2.rider.test', 'ns2.rider.test (2001:db8::2)']
const find = (latest: Observation[], more: Partial<Parameters<typeof findServerTroubles>[0]> = {}) =>
  findServerTroubles({ origin: 'rider.test.', servers: SERVERS, latest, serials: [], now: 60 * MINUTE, ...more })
const kinds = (...given: Parameters<typeof find>) => find(...given).map(({ kind, subject }) => [kind, subject])

describe('the name servers of a zone', () => {
  it('are called by their name, and at a further address by that too', () => {
    expect(serverLabel(SERVERS[1]!, '192.0.2.2')).toBe(TWO)
    expect(serverLabel(SERVERS[1]!, '2001:db8::2')).toBe(SIX)
  })
  it.each([
    ['all is well', [seen(ONE), seen(TWO), seen(SIX)], []],
    ['nobody was asked', [], []],
    ['one lost answer is no fault', [seen(ONE), gone(TWO, 'silent', { firstAt: 60 * MINUTE })], []],
    ['silent at two looks', [seen(ONE), gone(TWO, 'silent')], [['server-silent', TWO]]],
    ['silent at one address', [seen(ONE), seen(TWO), gone(SIX, 'silent')], [['server-silent', SIX]]],
    ['failing, never seen with the zone', [seen(ONE), gone(TWO, 'failed')], [['server-failing', TWO]]],
    [
      'failing, seen with it before',
      [seen(ONE), gone(TWO, 'failed', { hadAnswered: true })],
      [['server-expired', TWO]],
    ],
    ['the primary fails: no copy', [gone(ONE, 'failed', { hadAnswered: true }), seen(TWO)], [['server-failing', ONE]]],
    ['none answers', [gone(ONE, 'silent'), gone(TWO, 'lame'), gone(SIX, 'silent')], [['no-server', 'rider.test']]],
    [
      'we are cut off: nobody is blamed',
      [gone(ONE, 'silent'), gone(TWO, 'silent'), gone('R', 'silent', { role: 'resolver', type: 'A' })],
      [],
    ],
    [
      'a resolver answers: then it is they',
      [gone(ONE, 'silent'), gone(TWO, 'silent'), seen('R', { role: 'resolver', type: 'A', data: ['192.0.2.9'] })],
      [['no-server', 'rider.test']],
    ],
  ])('%s', (_, latest, expected) => expect(kinds(latest)).toEqual(expected))

  const lagging = [seen(ONE, { data: [soa(9)], firstAt: 50 * MINUTE }), seen(TWO)]
  const runs = [9, 8, 7].map((serial, index) => ({ serial, firstAt: [50, 40, 0][index]! * MINUTE }))
  it('one that is behind is told by how much and since when', () => {
    const [trouble, ...others] = find(lagging, { serials: runs })
    expect(others).toEqual([])
    expect(trouble).toMatchObject({
      kind: 'server-behind',
      subject: TWO,
      headline: `The name server ${TWO} is behind: serial 7 instead of 9`,
      sentence: expect.stringContaining('2 behind 9, since 1970-01-01 00:40 UTC'),
    })
  })
  it.each([
    ['not before a secondary must have asked', lagging, { serials: runs, now: 44 * MINUTE }],
    ['the primary itself is never behind', [seen(ONE), seen(TWO, { data: [soa(9)] })], {}],
    ['over the end of the circle (RFC 1982)', [seen(ONE, { data: [soa(3)] }), seen(TWO, { data: [soa(3)] })], {}],
  ])('%s', (_, latest, more) => expect(kinds(latest, more)).toEqual([]))
  it('counts on over the end of the circle (RFC 1982 §3.2)', () => {
    const latest = [seen(ONE, { data: [soa(2)] }), seen(TWO, { data: [soa(4_294_967_295)] })]
    const [trouble] = find(latest, { serials: [{ serial: 2, firstAt: 10 * MINUTE }] })
    expect(trouble!.sentence).toContain('3 behind 2')
  })
  it('goes by the newest where the primary is not among them', () => {
    const hidden = (serial: number) => ({ data: [soa(serial, 'hidden.rider.test.')] })
    const latest = [seen(ONE, hidden(7)), seen(TWO, hidden(8))]
    expect(kinds(latest, { serials: [{ serial: 8, firstAt: 0 }] })).toEqual([['server-behind', ONE]])
    expect(serversSeen(SERVERS, latest).map(({ serial, isBehind }) => [serial, isBehind])).toEqual([
      [7, true],
      [8, false],
    ])
  })
  it.each([
    ['IPv6 alone (RFC 3901 §4)', [['2001:db8::1'], ['2001:db8::2']], ['one-family']],
    ['IPv4 alone is enough', [['192.0.2.1'], ['192.0.2.2']], []],
    ['one of two has IPv4', [['2001:db8::1'], ['192.0.2.2']], []],
  ])('%s', (_, addresses, expected) => {
    const servers = addresses.map((own, index) => ({ name: `ns${index + 1}.rider.test`, addresses: own }))
    expect(find([seen(ONE), seen(TWO)], { servers }).map(({ kind }) => kind)).toEqual(expected)
  })
})
