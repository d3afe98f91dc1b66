import { describe, expect, it } from 'vitest'
import { shareHarmed } from '../../../core/docket'
import {
  findDrift,
  findRenewal,
  intake,
  makeZone,
  nextLook,
  planProgress,
  readZone,
  standingBySight,
  switchPlan,
  unreached,
  wholeChange,
  changeZone,
  type GatewayFacts,
  type Observation,
  type SightState,
  type ZoneFile,
} from '../../../core/dns'

const GATEWAY: GatewayFacts = { name: 'gate.test.', ipv4: ['192.0.2.80'], ipv6: ['2001:db8::80'], issuers: ['ca.test'] }
const TOP =
  '$TTL 3600\n@ SOA ns1 hostmaster 2026112001 7200 900 1209600 900\n@ NS ns1\n@ NS ns2\nns1 A ' +
  '192.0.2.53\nns2 A 198.51.100.53\n'
const zoneOf = (records: string, origin = 'rider.test.'): ZoneFile => readZone(TOP + records, origin)
const kinds = (records: string, name = 'rider.test.', gateway = GATEWAY) =>
  intake(zoneOf(records), name, 'token', gateway).map((finding) => finding.kind)

describe('intake', () => {
  it.each([
    ['nothing where the name is free', '', 'go.rider.test.', []],
    ['a website on the name', '@ 300 A 198.51.100.7\n', 'rider.test.', ['website-on-name']],
    ['a long TTL beside it', '@ A 198.51.100.7\n', 'rider.test.', ['website-on-name', 'long-ttl']],
    ['a website behind an alias', 'www CNAME elsewhere.test.\n', 'www.rider.test.', ['website-on-name', 'long-ttl']],
    ['mail on the name', '@ MX 10 mail\nmail A 192.0.2.1\n', 'rider.test.', ['mail-on-name']],
    ['a wildcard that stops', '* 300 A 198.51.100.7\n', 'go.rider.test.', ['wildcard-stops']],
    [
      'mail through a wildcard',
      '* MX 10 mail\nmail A 192.0.2.1\n',
      'go.rider.test.',
      ['wildcard-stops', 'mail-on-name'],
    ],
    ['no wildcard where the name exists', '* A 198.51.100.7\ngo TXT "x"\n', 'go.rider.test.', []],
    ['a delegation at the name', 'go NS ns.other.test.\n', 'go.rider.test.', ['delegated']],
    ['a delegation above it', 'b NS ns.other.test.\n', 'a.b.rider.test.', ['delegated']],
    ['CAA that shuts the issuer out', '@ CAA 0 issue "other.test"\n', 'go.rider.test.', ['caa-shuts-out']],
    ['CAA that lets it in', '@ CAA 0 issue "ca.test"\n', 'go.rider.test.', []],
    ['that it leads here already', 'go CNAME gate.test.\n', 'go.rider.test.', ['already-here']],
    ['a name outside the zone', '', 'rider.example.', ['name-outside']],
    ['a signed zone', '@ DNSKEY 257 3 13 AAAA\n', 'go.rider.test.', ['signed-zone']],
  ])('finds %s', (_what, records, name, expected) => expect(kinds(records, name)).toEqual(expected))

  it('says which address family is missing, and that the name has it today', () => {
    const found = intake(zoneOf('@ AAAA 2001:db8::7\n'), 'rider.test.', 'token', { ...GATEWAY, ipv6: [] })
    expect(found.find((finding) => finding.kind === 'one-family')!.sentence).toContain(
      'IPv6 alone cannot reach it. rider.test has an IPv6 address today',
    )
  })
})

describe('the plan', () => {
  const planOf = (records: string, name = 'rider.test.', gateway = GATEWAY) => {
    const file = zoneOf(records)
    return switchPlan(makeZone(file.origin, file.records), name, 'token', gateway)
  }
  const types = (records: string, name?: string, gateway?: GatewayFacts) =>
    planOf(records, name, gateway).needed.pointing.map((record) => record.type)
  it('gives a sub-domain a CNAME, the apex addresses, and addresses where mail must stay', () => {
    expect(types('', 'go.rider.test.')).toEqual(['CNAME'])
    expect(types('')).toEqual(['A', 'AAAA'])
    expect(types('go MX 10 mail\nmail A 192.0.2.1\n', 'go.rider.test.')).toEqual(['A', 'AAAA'])
    expect(types('', 'go.rider.test.', { ...GATEWAY, name: undefined })).toEqual(['A', 'AAAA'])
  })
  it('lets the issuer in at the name that needs it, not in the whole zone (RFC 8659 §3, RFC 2181 §10.1)', () => {
    const shut = '@ CAA 0 issue "other.test"\n'
    const { caa, use, why } = planOf(shut, 'go.rider.test.').needed
    expect(caa).toMatchObject({ name: 'go.rider.test.', data: '0 issue "ca.test"' })
    expect(use).toBe('addresses')
    expect(why).toContain('no CNAME can stand')
    // The top needs it itself; without addresses a CNAME leaves no place for it at the name.
    expect(planOf(shut).needed.caa?.name).toBe('rider.test.')
    const bare = { ...GATEWAY, ipv4: [], ipv6: [] }
    expect(planOf(shut, 'go.rider.test.', bare).needed).toMatchObject({ use: 'cname', caa: { name: 'rider.test.' } })
  })
  it('leaves out what need not be done, and lowers only long TTLs', () => {
    expect(planOf('', 'go.rider.test.').steps.map((step) => step.key)).toEqual(['prove', 'switch', 'wait', 'open'])
    expect(planOf('@ 120 A 198.51.100.7\n').steps.map((step) => step.key)).toEqual(['prove', 'switch', 'wait', 'open'])
    expect(planOf('@ A 198.51.100.7\n').steps[0]).toMatchObject({
      key: 'lower-ttl',
      add: [{ ttl: 300, data: '198.51.100.7' }],
    })
  })
  it('proves and switches in one where a wildcard answers for the name (RFC 4592 §2.2.2), and waits its TTL', () => {
    const plan = planOf('* 5000 A 198.51.100.9\n', 'go.rider.test.')
    expect(plan).toMatchObject({ oldTtl: 5000, steps: [{ key: 'switch' }, { key: 'wait', waitSeconds: 5000 }, {}] })
    expect(plan.steps[0]!.add.map(({ name, type }) => `${name} ${type}`)).toEqual([
      '_fides.go.rider.test. TXT',
      'go.rider.test. CNAME',
    ])
    const at = (more: { changedAt?: number; proved: boolean }) =>
      planProgress(plan.steps, { allSee: false, open: false, now: 0, ttlSpeed: 1, ...more })[0]!.state
    expect(at({ proved: true })).toBe('now')
    expect(at({ changedAt: 1, proved: false })).toBe('now')
    expect(at({ changedAt: 1, proved: true })).toBe('done')
    // The name is there already, or the wildcard stands elsewhere: nothing is lost by the proof.
    for (const records of ['* 60 A 198.51.100.9\ngo 60 TXT "x"\n', '*.other 60 A 198.51.100.9\n'])
      expect(planOf(records, 'go.rider.test.').steps[0]!.key).toBe('prove')
  })
  it('is blocked by a delegation and by a gateway without a name or address', () => {
    expect(planOf('go NS ns.other.test.\n', 'go.rider.test.')).toMatchObject({
      steps: [],
      records: [],
      blocked: expect.stringContaining('delegated'),
    })
    expect(planOf('', 'go.rider.test.', { name: undefined, ipv4: [], ipv6: [], issuers: [] }).blocked).toContain(
      'FIDES_PUBLIC_NAME',
    )
  })
  it('keeps mail and comments octet for octet in the changed file', () => {
    const file = zoneOf('; the old site\n@ A 198.51.100.7 ; agency\n@   MX\t10   mail ; kept\nmail A 192.0.2.1\n')
    const zone = makeZone(file.origin, file.records)
    const after = changeZone(
      file,
      wholeChange(zone, switchPlan(zone, 'rider.test.', 'token', GATEWAY), new Date('2026-11-24T12:00:00Z')),
    )
    expect(after).toContain('@   MX\t10   mail ; kept\n')
    expect(after).toContain('; the old site\n')
    expect(after).toContain('2026112400')
    expect(after).not.toContain('198.51.100.7')
  })
})

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
const WANTED = { name: 'rider.test.', type: 'A', data: ['192.0.2.80'] }

describe('standing', () => {
  const by = (
    current: 'not-proved' | 'proved' | 'spreading' | 'open' | 'drifted',
    proof: SightState[],
    authorities: SightState[][],
    resolvers: SightState[][] = [],
  ) => standingBySight({ current, proof, authorities, resolvers })
  it.each([
    [
      'is not proved until every name server gives the proof',
      by('not-proved', ['new', 'absent'], [['old'], ['old']]),
      'not-proved',
    ],
    ['is proved then', by('not-proved', ['new', 'new'], [['old'], ['old']]), 'proved'],
    ['spreads as soon as one server points here', by('proved', ['new', 'new'], [['new'], ['old']]), 'spreading'],
    ['does not open by itself', by('spreading', ['new'], [['new']], [['new']]), 'spreading'],
    ['falls back when the proof goes', by('spreading', ['absent', 'absent'], [['new']]), 'not-proved'],
    ['stays where nobody answers', by('spreading', ['silent'], [['silent']]), 'spreading'],
    ['drifts when one server gives other records', by('open', ['new'], [['new'], ['old']]), 'drifted'],
    ['does not drift for silence', by('open', [], [['silent'], ['faulty']]), 'open'],
    ['stays drifted while one server is silent', by('drifted', [], [['new'], ['silent']]), 'drifted'],
    ['comes back when all answer and none is wrong', by('drifted', [], [['new'], ['faulty'], ['new']]), 'open'],
  ])('%s', (_what, standing, expected) => expect(standing).toBe(expected))
})

describe('drift', () => {
  const drift = (latest: Observation[], more: Partial<Parameters<typeof findDrift>[0]> = {}) =>
    findDrift({ name: 'rider.test.', pointing: [WANTED], visited: [WANTED], latest, now: 0, ...more })
  const both = (more: Partial<Observation>) => [seen(more), seen({ server: 'ns2', ...more })]
  it('finds nothing where all is well, and where nobody answers', () => {
    expect(drift(both({}))).toEqual([])
    expect(drift(both({ status: 'silent', data: [], ttl: null }))).toEqual([])
  })
  it.each([
    ['record-gone', both({ status: 'none', data: [] }), /no longer have its A record/],
    ['address-changed', both({ data: ['203.0.113.9'] }), /now answer 203.0.113.9 for A/],
    [
      'one-server-changed',
      [seen({}), seen({ server: 'ns2', data: ['203.0.113.9'] })],
      /^ns2 answers 203.0.113.9 for A of rider.test, while ns1 still gives/,
    ],
  ] as const)('tells %s', (kind, latest, sentence) => {
    const [trouble, ...others] = drift([...latest])
    expect(others).toEqual([])
    expect(trouble).toMatchObject({ kind, severity: 'broken', subject: 'rider.test' })
    expect(trouble!.sentence).toMatch(sentence)
    expect(trouble!.evidence).toHaveLength(2)
  })
  it('tells a further record beside the right one as that', () => {
    const [trouble, ...others] = drift(both({ data: ['192.0.2.80', '203.0.113.9'] }))
    expect(others).toEqual([])
    expect(trouble).toMatchObject({ kind: 'record-beside', headline: 'A 203.0.113.9 stands beside the right record' })
    expect(trouble!.sentence).toContain('Take A 203.0.113.9 out.')
    expect(shareHarmed(trouble!)).toBe(0.5)
  })
  it('writes names without the dot at their end', () => {
    const alias = { name: 'go.rider.test.', type: 'CNAME', data: ['gate.test.'] }
    const away = seen({ name: alias.name, type: 'CNAME', data: ['else.test.'] })
    const [trouble] = drift([away], { pointing: [alias], visited: [] })
    expect(trouble!.sentence).toMatch(/now answer else\.test for CNAME: .* It should have CNAME gate\.test\.$/)
  })
  it('tells all sets of one happening as one trouble', () => {
    const aaaa = { ...WANTED, type: 'AAAA', data: ['2001:db8::80'] }
    const found = drift([...both({ status: 'none', data: [] }), ...both({ type: 'AAAA', status: 'none', data: [] })], {
      pointing: [WANTED, aaaa],
    })
    expect(found.map((trouble) => trouble.headline)).toEqual(['The A and AAAA records are gone'])
  })
  it('finds a CNAME to nowhere, CAA shut, a lame server and a resolver that keeps too long', () => {
    const alias = { name: 'go.rider.test.', type: 'CNAME', data: ['gate.test.'] }
    expect(
      drift([seen({ name: alias.name, type: 'CNAME', data: alias.data })], { pointing: [alias], targetExists: false }),
    ).toMatchObject([{ kind: 'cname-dangling', subject: 'gate.test' }])
    expect(
      drift([seen({ name: alias.name, type: 'CNAME', data: alias.data })], {
        pointing: [alias],
        targetExists: undefined,
      }),
    ).toEqual([])
    expect(drift(both({}), { caa: { allowed: false, sentence: 'Shut.' } })).toMatchObject([
      { kind: 'caa-shuts-out', severity: 'doubtful' },
    ])
    expect(drift([seen({}), seen({ server: 'ns2', status: 'lame', data: [], ttl: null })])).toMatchObject([
      { kind: 'server-lame', subject: 'ns2' },
    ])
    const late = seen({ role: 'resolver', server: 'R', data: ['203.0.113.9'], ttl: 99 })
    expect(drift([...both({}), late], { everyoneBy: 10, now: 11 })).toMatchObject([
      { kind: 'resolver-late', subject: 'rider.test. A R', sentence: expect.stringContaining('in 99 s') },
    ])
    expect(drift([...both({}), late], { everyoneBy: 10, now: 9 })).toEqual([])
  })
  it('says what is met instead of the gateway', () =>
    expect(unreached('rider.test.', 'Answered by another server.', '203.0.113.9')).toMatchObject({
      kind: 'not-reached',
      evidence: [{ label: 'http://rider.test/ at 203.0.113.9' }],
    }))
})

describe('renewal', () => {
  const now = Date.parse('2026-11-24T15:00:00Z')
  it.each([
    ['2027-02-01', undefined],
    ['2027-01-23', 'expires in 60 days'],
    ['2026-12-01', 'expires in 7 days'],
    ['2026-11-25', 'expires in 1 day'],
    ['2026-11-24', 'runs out today'],
    ['2026-11-20', 'ran out 4 days ago'],
    [null, undefined],
  ])('%s: %s', (date, words) => {
    const trouble = findRenewal('rider.test.', date, 'Harbour Names', now)
    if (words === undefined) expect(trouble).toBeUndefined()
    else expect(trouble!.headline).toContain(words)
  })
  it('is told with the day as people write it', () =>
    expect(findRenewal('rider.test.', '2026-12-01', '', now)!.evidence).toMatchObject([{ text: 'Tue 1 Dec 2026' }]))
  it('is broken within a week, doubtful before', () => {
    expect(findRenewal('rider.test.', '2026-12-01', '', now)!.severity).toBe('broken')
    expect(findRenewal('rider.test.', '2026-12-02', '', now)!.severity).toBe('doubtful')
  })
})

describe('the next look', () => {
  it('comes just after the first old answer lapses, at the regular interval at the latest, never at once', () => {
    expect(nextLook({ now: 0, interval: 60_000, lapses: [10_000, 30_000] })).toEqual({
      at: 10_500,
      why: 'an old answer expires then',
    })
    expect(nextLook({ now: 0, interval: 60_000, lapses: [90_000] }).at).toBe(60_000)
    expect(nextLook({ now: 20_000, interval: 60_000, lapses: [10_000] }).at).toBe(80_000)
    expect(nextLook({ now: 10_400, interval: 60_000, lapses: [10_000] }).at).toBe(12_400)
  })
})
