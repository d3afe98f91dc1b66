import { describe, expect, it } from 'vitest'
import {
  advanceHeld,
  makeZone,
  planProgress,
  readSighting,
  readZone,
  sightQuestions,
  switchPlan,
  type GatewayFacts,
  type Observation,
  type PlanSight,
  type ZoneFile,
} from '../../../core/dns'

const GATEWAY: GatewayFacts = { name: 'gate.test.', ipv4: ['192.0.2.80'], ipv6: ['2001:db8::80'], issuers: ['ca.test'] }
const TOP =
  '$TTL 3600\n@ SOA ns1 hostmaster 2026112001 7200 900 1209600 900\n@ NS ns1\n@ NS ns2\nns1 A ' +
  '192.0.2.53\nns2 A 198.51.100.53\n'
const zoneOf = (records: string, origin = 'rider.test.'): ZoneFile => readZone(TOP + records, origin)

const seen = (more: Partial<Observation>): Observation => ({
  role: 'authority',
  server: 'ns1',
  name: 'rider.test.',
  type: 'A',
  status: 'answered',
  data: ['192.0.2.80'],
  ttl: 3600,
  firstAt: 0,
  at: 0,
  ...more,
})

describe('a sighting', () => {
  const file = zoneOf('@ A 198.51.100.7\n@ MX 10 mail\nmail A 192.0.2.1\n')
  const zone = makeZone(file.origin, file.records)
  const plan = switchPlan(zone, 'rider.test.', 'token', { ...GATEWAY, ipv6: [] })
  const questions = sightQuestions(plan.needed, 'rider.test.')
  const proof = (server: string) => seen({ server, name: '_fides.rider.test.', type: 'TXT', data: ['"fides=token"'] })
  const read = (latest: Observation[], more = {}) =>
    readSighting({
      current: 'proved',
      questions,
      zone,
      replaced: plan.needed.replaced,
      latest,
      loweredAt: undefined,
      changedAt: undefined,
      now: 1_000_000,
      speed: 1,
      ...more,
    })

  it('asks visitors’ questions of resolvers and the records of name servers', () => {
    expect(questions).toMatchObject({
      authority: [{ type: 'A', data: ['192.0.2.80'] }],
      resolver: [{ type: 'A' }],
      proof: { type: 'TXT' },
      old: [],
    })
    const alias = sightQuestions(switchPlan(zone, 'go.rider.test.', 'token', GATEWAY).needed, 'go.rider.test.')
    expect(alias.authority).toEqual([{ name: 'go.rider.test.', type: 'CNAME', data: ['gate.test.'] }])
    expect(alias.resolver.map((set) => [set.type, set.data])).toEqual([
      ['A', ['CNAME gate.test.']],
      ['AAAA', ['CNAME gate.test.']],
    ])
  })
  it('knows when the TTL was lowered, by every name server that answers', () => {
    const old = (server: string, ttl: number) => seen({ server, data: ['198.51.100.7'], ttl })
    expect(read([old('ns1', 300), old('ns2', 3600)]).loweredAt).toBeUndefined()
    expect(read([old('ns1', 300), old('ns2', 300)]).loweredAt).toBe(1_000_000)
    expect(read([old('ns1', 300), old('ns2', 300)], { loweredAt: 5 }).loweredAt).toBe(5)
  })
  it('forecasts from the moment the last name server changed', () => {
    const held = seen({ role: 'resolver', server: 'R', data: ['198.51.100.7'], ttl: 100, at: 990_000 })
    const told = read(
      [proof('ns1'), proof('ns2'), seen({ firstAt: 900_000 }), seen({ server: 'ns2', firstAt: 950_000 }), held],
      { heldUntil: 950_000 + 3_600_000 },
    )
    expect(told).toMatchObject({
      standing: 'spreading',
      proved: true,
      changedAt: 950_000,
      oldTtl: 3600,
      negativeTtl: 900,
      everyoneBy: 950_000 + 3_601_000,
      allSee: false,
      lapses: [1_091_000],
    })
    expect(told.resolvers).toEqual([{ server: 'R', state: 'old', by: 1_091_000, stretches: false }])
  })
  it('goes by the moment until which others may hold the old, though the zone is read again after it', () => {
    const all = [proof('ns1'), seen({ firstAt: 900_000 })]
    const first = read(all, { heldUntil: 900_000 + 3_600_000 })
    expect(first).toMatchObject({ changedAt: 900_000, heldTtl: 3600, everyoneBy: 900_000 + 3_601_000 })
    expect(read(all, { heldUntil: 4_500_000, changedAt: first.changedAt, replaced: [] })).toMatchObject({
      heldTtl: 3600,
      everyoneBy: first.everyoneBy,
    })
  })
  it('of an open domain that drifted, knows no moment until all name servers are right again', () => {
    const away = read([seen({ data: ['203.0.113.9'], ttl: 86_400 })], { current: 'open', changedAt: 5, heldUntil: 300 })
    expect(away).toMatchObject({ standing: 'drifted', changedAt: undefined, heldTtl: 0 })
    const silent = read([seen({ status: 'silent', data: [], ttl: null })], { current: 'drifted', heldUntil: 86_400 })
    expect(silent).toMatchObject({ standing: 'drifted', changedAt: undefined })
    expect(read([seen({ firstAt: 10_000 })], { current: 'drifted', heldUntil: 86_410_000 })).toMatchObject({
      standing: 'open',
      changedAt: 10_000,
      everyoneBy: 10_000 + 86_401_000,
    })
  })
  it('tells nothing where an installation knows no address of its own', () => {
    const bare = switchPlan(zone, 'rider.test.', 'token', { name: undefined, ipv4: [], ipv6: [], issuers: [] })
    const told = read([seen({ role: 'resolver', server: 'R', status: 'silent', data: [], ttl: null })], {
      questions: sightQuestions(bare.needed, 'rider.test.'),
    })
    expect(told).toMatchObject({
      changedAt: undefined,
      everyoneBy: undefined,
      resolvers: [{ server: 'R', state: 'silent', by: undefined }],
    })
  })
  it('has not changed while one name server gives the old record', () => {
    expect(read([seen({}), seen({ server: 'ns2', data: ['198.51.100.7'] })])).toMatchObject({
      changedAt: undefined,
      everyoneBy: undefined,
    })
  })
  const states = (more: Partial<PlanSight>) =>
    planProgress(plan.steps, { proved: false, allSee: false, open: false, now: 0, ttlSpeed: 1, ...more }).map(
      (step) => step.state,
    )
  it('ticks the steps, the first undone one being for now', () => {
    expect(states({})).toEqual(['now', 'later', 'later', 'later', 'later', 'later'])
    expect(states({ loweredAt: 0 })).toEqual(['done', 'now', 'later', 'later', 'later', 'later'])
    expect(states({ loweredAt: 0, now: 3_600_000 })).toEqual(['done', 'done', 'now', 'later', 'later', 'later'])
    expect(states({ loweredAt: 0, now: 3_600_000, proved: true })).toEqual([
      'done',
      'done',
      'done',
      'now',
      'later',
      'later',
    ])
    expect(states({ changedAt: 0, proved: true, everyoneBy: 10, now: 5 })).toEqual([
      'skipped',
      'skipped',
      'done',
      'done',
      'now',
      'later',
    ])
    expect(states({ changedAt: 0, proved: true, everyoneBy: 10, now: 11, allSee: true })).toEqual([
      'skipped',
      'skipped',
      'done',
      'done',
      'done',
      'now',
    ])
    expect(states({ open: true })).toEqual(['skipped', 'skipped', 'done', 'done', 'done', 'done'])
  })
})

describe('how long others may hold old answers', () => {
  const wanted = [{ name: 'rider.test.', type: 'A', data: ['192.0.2.80'] }]
  const old = (ttl: number, at: number, more: Partial<Observation> = {}) =>
    seen({ data: ['198.51.100.7'], ttl, at, ...more })
  const fresh = (at: number) => seen({ at, firstAt: at })
  const advance = (
    previous: Observation[],
    now: Observation[],
    before?: number,
    { planned = 0, speed = 1 } = {},
  ): number => advanceHeld({ wanted, previous, seen: now, before, planned, now: 9_999_000, speed })

  it.each([
    ['moves on while the old is given', advance([old(60, 0)], [old(60, 10_000)], 60_000), 70_000],
    ['stays as soon as all give the new', advance([fresh(20_000)], [fresh(30_000)], 80_000), 80_000],
    ['takes the old up to the look that shows the new', advance([old(60, 10_000)], [fresh(20_000)], 70_000), 80_000],
    ['keeps a long TTL that was lowered for its whole time', advance([old(3600, 0)], [old(5, 10_000)], 0), 3_610_000],
    ['is not shortened by what is lower later', advance([old(5, 10_000)], [fresh(20_000)], 3_610_000), 3_610_000],
    [
      'goes by the plan where nothing old was ever seen',
      advance([], [fresh(20_000)], undefined, { planned: 90 }),
      110_000,
    ],
    [
      'takes “no such record” for its own TTL',
      advance([old(30, 0, { status: 'none', data: [] })], [fresh(5000)]),
      35_000,
    ],
    ['leaves resolvers aside', advance([old(600, 0, { role: 'resolver' })], [fresh(5000)], 7000), 7000],
    ['runs as fast as TTLs do', advance([old(60, 0)], [fresh(10_000)], 0, { speed: 60 }), 11_000],
  ])('%s', (_, given, until) => expect(given).toBe(until))
})
