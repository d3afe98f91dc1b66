import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { readZone } from '../../core/dns'
import { DomainWorld, RIDER } from './domain-world'
import { until, type Told } from './fides'
import { GATEWAY, top } from './outside'

const world = new DomainWorld()
const { admin, add, bring } = world
beforeAll(() => world.start())
afterAll(() => world.stop())
const kinds = (told: Told) => told.findings.map((finding: Told) => finding.kind)

describe('a name that is considered', () => {
  const preview = async (host: string) => (await admin('POST', '/domains/preview', { host })).body
  it('is told to be the top of a zone in use, with what would be taken away', async () => {
    const told = await preview('rider.example')
    expect(told).toMatchObject({ isApex: true, registrable: 'rider.example', zone: 'rider.example', reachable: true })
    expect(told.today.join(' ')).toContain('A website answers on this name: status 200, “Rider survey 2026”')
    expect(told.takenAway.join(' ')).toMatch(/Visitors of rider\.example are led to .*Mail is delivered here/s)
    expect(told.recommendation).toContain('Better take a sub-domain beside it, like go.rider.example')
  })
  it('is told to be free beside a website', async () => {
    expect((await preview('go.rider.example')).recommendation).toContain('takes one CNAME record')
  })
  it('is told what a wildcard does today', async () => {
    expect((await preview('go.portansel.example')).takenAway.join(' ')).toContain(
      'wildcard *.portansel.example answers for go.portansel.example',
    )
  })
  it('may not be registered yet', async () => {
    const told = await preview('nowhere.test')
    expect(told).toMatchObject({ takenAway: [], reachable: false })
    expect(told.today[0]).toContain('nowhere.test is not registered')
  })
})

describe('names that cannot be added', () => {
  it.each([
    ['co.uk', 422, /is a public suffix.*like “ansl.co.uk”/],
    ['ansl.example', 409, /is one of the organisation’s domains already/],
    ['a.ansl.example', 409, /sub-domain of ansl.example.*Set “below”/],
    ['under_score.example', 422, /underscore/],
    [`${'x'.repeat(64)}.example`, 422, /64 characters long/],
    ['xn--a-.example', 422, /is no host name/],
  ])('%s', async (host, status, sentence) => {
    const before = await world.fides.db.Domain.count()
    const { status: given, body } = await admin('POST', '/domains', { host })
    expect([given, body.errors[0].pointer]).toEqual([status, '/host'])
    expect(body.errors[0].detail).toMatch(sentence)
    expect(await world.fides.db.Domain.count()).toBe(before)
  })
  it('are added below another domain when that is meant', async () => {
    expect((await admin('POST', '/domains', { host: 'below.ansl.example', below: true })).status).toBe(201)
  })
})

describe('a zone that is brought', () => {
  let id: number
  beforeAll(async () => {
    id = await add('go.portansel.example')
  })
  const stored = async () => (await world.fides.db.DomainZone.findByPk(id))?.source

  it('is first what its name servers say when asked', async () => {
    await until('the zone asked for', async () => (await stored()) === 'asked')
    const { body } = await admin('GET', `/domains/${id}/plan`)
    expect(kinds(body)).toEqual(expect.arrayContaining(['not-seen', 'wildcard-stops']))
    expect(body).toMatchObject({ use: 'cname', origin: 'portansel.example', zoneKnown: true })
  })

  it.each([
    ['50 MB', () => `${RIDER}${'; filler\n'.repeat(5_600_000)}`, 413, /larger than 4 MB/],
    [
      'binary junk',
      () => Uint8Array.from({ length: 4096 }, (_, index) => (index * 197) % 256),
      422,
      /contains the byte 0x/,
    ],
    ['nothing', () => ' \n\n', 422, /is empty/],
    ['a label of 300 octets', () => `${top('portansel.example')}${'x'.repeat(300)} A 192.0.2.1\n`, 422, /Line 8: .*63/],
    ['text that is no zone', () => 'Dear registrar,\nplease find the zone attached.\n', 422, /Line 1: /],
    ['another zone', () => top('elsewhere.example'), 422, /does not lie in it/],
    ['an unclosed parenthesis', () => 'portansel.example. 60 IN SOA ns1 h ( 1 2 3 4 5\n', 422, /parenthes/],
  ])('%s is refused in a sentence, and nothing is stored', async (_what, zone, status, sentence) => {
    const told = await bring(id, zone())
    expect(told.status).toBe(status)
    expect(told.body.errors[0].pointer).toBe('/zone')
    expect(told.body.detail).toMatch(sentence)
    expect(await stored()).toBe('asked')
  })
  it('must be text/dns', async () =>
    expect((await admin('PUT', `/domains/${id}/zone`, { zone: 'x' })).status).toBe(415))

  it.each([
    ['by its SOA', 'www A 192.0.2.1\n', '@ SOA ns1 hostmaster ( 2026111801 7200 900 1209600 900 )\n@ NS ns1\n'],
    ['by its names', 'kid NS ns1.kid\nns1.kid A 192.0.2.1\n', '@ SOA other mail ( 1 2 3 4 5 )\n@ NS ns1\n'],
  ])('of the zone above, without $ORIGIN, is known as that %s, and not read as the child’s', async (_, more, start) => {
    // A delegated child: its name servers are those of a zone of its own.
    world.outside.world.put(
      'kid.portansel.example.',
      `${top('kid.portansel.example').replace('ns1 hostmaster', 'ns1 keeper')}@ A 198.51.100.7\n`,
    )
    const kid = (await admin('GET', '/domains')).body.items.find((each: Told) => each.host === 'kid.portansel.example')
    const kidId = kid?.id ?? (await add('kid.portansel.example'))
    const { status, body } = await bring(kidId, `$TTL 60\n${start}ns1 A 192.0.2.53\n${more}`)
    expect(status).toBe(200)
    expect(body.origin).toBe('portansel.example')
  })

  it('is read as a file, and taken by transfer', async () => {
    const { status, body } = await bring(id, `${top('portansel.example')}other.zone. A 192.0.2.1\ngo A 192.0.2.9\n`)
    expect(status).toBe(200)
    expect(body).toMatchObject({ origin: 'portansel.example', source: 'file' })
    expect(kinds(body)).toEqual(expect.arrayContaining(['out-of-zone', 'website-on-name', 'long-ttl']))
    const taken = await admin('POST', `/domains/${id}/zone/transfer`, {})
    expect(taken.body).toMatchObject({
      source: 'transfer',
      records: 10,
      toldBy: expect.stringContaining('ns1.portansel.example'),
    })
    // Whatever listens there or not, the answer about an address of one's own network is the same.
    const open = new URL(world.fides.system.adminAddress).port
    for (const server of [
      `127.0.0.1:${open}`,
      '127.0.0.1:9',
      `[::1]:${open}`,
      '10.0.0.1',
      `[::ffff:127.0.0.1]:${open}`,
    ]) {
      const inside = await admin('POST', `/domains/${id}/zone/transfer`, { server })
      expect(inside.status).toBe(422)
      expect(inside.body.detail).toMatch(/is not a public address, and nothing is asked there/)
      const key = { server, name: 'desk-key', secret: 'AAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAA' }
      expect((await admin('PUT', `/domains/${id}/key`, key)).body.detail).toMatch(/is not a public address/)
    }
    const refused = await admin('POST', `/domains/${id}/zone/transfer`, { server: '192.0.2.99' })
    expect(refused.body.errors[0]).toMatchObject({
      pointer: '/server',
      detail: expect.stringContaining('did not hand the zone over'),
    })
  })

  it('answers before and after the change by the lookup algorithm', async () => {
    const { body } = await admin('POST', `/domains/${id}/zone/lookup`, { name: 'go.portansel.example', type: 'A' })
    expect(body.before.answer.map((record: Told) => record.data)).toEqual(['www.portansel.example.', '198.51.100.20'])
    expect(body.after.answer.map((record: Told) => `${record.type} ${record.data}`)).toEqual([`CNAME ${GATEWAY.name}.`])
    expect(
      (await admin('POST', `/domains/${id}/zone/lookup`, { name: 'go..x', type: 'A' })).body.errors[0].pointer,
    ).toBe('/name')
    expect(
      (await admin('POST', `/domains/${id}/zone/lookup`, { name: 'go', type: 'WHAT' })).body.errors[0].pointer,
    ).toBe('/type')
  })

  it('is handed out before and after as text/dns', async () => {
    const before = await world.fides.call<string>('viewer', 'GET', `/domains/${id}/zone/before`)
    const after = await world.fides.call<string>('viewer', 'GET', `/domains/${id}/zone/after`)
    expect(after.headers.get('content-type')).toMatch(/^text\/dns/)
    expect(before.body).not.toContain(GATEWAY.name)
    const file = readZone(after.body, 'portansel.example.')
    expect(file.faults).toEqual([])
    expect(file.records.map((record) => `${record.name} ${record.type} ${record.data}`)).toContain(
      `go.portansel.example. CNAME ${GATEWAY.name}.`,
    )
  })
})

describe('an old website’s log', () => {
  it('becomes addresses that can be made links', async () => {
    const id = await add('old.test')
    const line = (path: string) => `192.0.2.1 - - [24/Nov/2026:10:00:00 +0000] "GET ${path} HTTP/1.1" 200 9 "-" "x"\n`
    const read = (log: string, to = '') =>
      admin('POST', `/domains/${id}/old-paths?to=${encodeURIComponent(to)}`, log, { 'content-type': 'text/plain' })
    const { body } = await read(
      line('/survey?x=1') + line('/survey') + line('/caf%C3%A9/') + line('/app.css'),
      'https://new.test/',
    )
    expect(body).toMatchObject({
      lines: 4,
      requests: 3,
      items: [
        { path: '/survey', slug: 'survey', visits: 2, destination: 'https://new.test/survey', taken: false },
        { path: '/caf%C3%A9/', slug: 'café', visits: 1 },
      ],
    })
    await world.fides.link({ domain: 'old.test', slug: 'survey' })
    expect((await read(line('/survey'))).body.items[0]).toMatchObject({ taken: true, destination: '' })
    expect((await read('not a log')).body.errors[0].pointer).toBe('/log')
    expect((await read(line('/a'), 'javascript:x')).body.errors[0].pointer).toBe('/to')
  })
})
