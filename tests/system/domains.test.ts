import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { readZone } from '../../core/dns'
import { refreshVisitFigures } from '../../server/usecases/traffic/refresh-visit-figures'
import { TestFides, until, type Told, type Who } from './fides'
import { GATEWAY, KEY, NAME_SERVERS, Outside, top } from './outside'

let outside: Outside
let fides: TestFides
// TTLs run fast, so that what takes an hour takes seconds.
const SPEED = 600
const RIDER = `${top('rider.example')}; the survey's website
@ IN A 198.51.100.7
@ IN MX 10 mail
mail IN A 198.51.100.25
www IN CNAME @
`
beforeAll(async () => {
  outside = await Outside.start(SPEED)
  outside.world.put('rider.example.', RIDER)
  outside.world.put(
    'portansel.example.',
    `${top('portansel.example')}@ IN A 198.51.100.20\n@ IN MX 10 mail\nmail IN A 198.51.100.25\n* IN ` +
      `CNAME www\nwww IN A 198.51.100.20\n`,
  )
  fides = await TestFides.start({
    environment: (settings) => outside.environment(settings, { FIDES_TTL_SPEED: String(SPEED) }),
  })
})
afterAll(async () => {
  await fides.stop()
  await outside.stop()
})
const admin = <Body = Told>(method: string, path: string, body?: unknown, headers?: Record<string, string>) =>
  fides.call<Body>('administrator', method, path, body, headers)
const add = async (host: string, more = {}) => (await admin('POST', '/domains', { host, ...more })).body.id as number
const bring = (id: number, zone: string | Uint8Array) =>
  admin('PUT', `/domains/${id}/zone`, zone, { 'content-type': 'text/dns' })
const kinds = (told: Told) => told.findings.map((finding: Told) => finding.kind)

describe('a name that is considered', () => {
  const preview = async (host: string) => (await admin('POST', '/domains/preview', { host })).body
  it('is told to be the top of a zone in use, with what would be taken away', async () => {
    const told = await preview('rider.example')
    expect(told).toMatchObject({ isApex: true, registrable: 'rider.example', zone: 'rider.example', reachable: true })
    expect(told.today.join(' ')).toContain('A website answers on this name: status 200, “Rider survey 2026”')
    expect(told.takenAway.join(' ')).toMatch(/A website answers on this name.*Mail is delivered here/s)
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
    ['a.ansl.example', 409, /lies under ansl.example.*Say “below”/],
    ['under_score.example', 422, /underscore/],
    [`${'x'.repeat(64)}.example`, 422, /64 characters long/],
    ['xn--a-.example', 422, /is no host name/],
  ])('%s', async (host, status, sentence) => {
    const before = await fides.db.Domain.count()
    const { status: given, body } = await admin('POST', '/domains', { host })
    expect([given, body.errors[0].pointer]).toEqual([status, '/host'])
    expect(body.errors[0].detail).toMatch(sentence)
    expect(await fides.db.Domain.count()).toBe(before)
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
  const stored = async () => (await fides.db.DomainZone.findByPk(id))?.source

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
      /holds the octet 0x/,
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
    const before = await fides.call<string>('viewer', 'GET', `/domains/${id}/zone/before`)
    const after = await fides.call<string>('viewer', 'GET', `/domains/${id}/zone/after`)
    expect(after.headers.get('content-type')).toMatch(/^text\/dns/)
    expect(before.body).not.toContain(GATEWAY.name)
    const file = readZone(after.body, 'portansel.example.')
    expect(file.faults).toEqual([])
    expect(file.records.map((record) => `${record.name} ${record.type} ${record.data}`)).toContain(
      `go.portansel.example. CNAME ${GATEWAY.name}.`,
    )
  })
})

describe('a domain, from a name to open', () => {
  let id: number
  const domain = async () => (await admin('GET', `/domains/${id}`)).body
  const plan = async () => (await admin('GET', `/domains/${id}/plan`)).body
  const stateOf = async (key: string) => (await plan()).steps.find((step: Told) => step.key === key)?.state

  it('has a plan that keeps its mail', async () => {
    id = await add('rider.example')
    expect((await bring(id, RIDER)).status).toBe(200)
    const told = await plan()
    expect(told.steps.map((step: Told) => step.key)).toEqual([
      'lower-ttl',
      'wait-old-ttl',
      'prove',
      'switch',
      'wait',
      'open',
    ])
    expect(told.records.map((record: Told) => [record.type, record.forms.relative, record.data])).toEqual([
      ['A', '@', GATEWAY.ipv4],
      ['AAAA', '@', GATEWAY.ipv6],
      ['TXT', '_fides', expect.stringMatching(/^"fides=[0-9a-f]{32}"$/)],
    ])
    expect(told.differences.map((difference: Told) => `${difference.change} ${difference.type}`)).toEqual(
      expect.arrayContaining(['changed A', 'added AAAA', 'added TXT']),
    )
    expect(JSON.stringify(told.differences)).not.toContain('MX')
  })

  it('cannot be opened before it is proved', async () => {
    for (const anyway of [false, true])
      expect((await admin('POST', `/domains/${id}/open`, { anyway })).body).toMatchObject({
        status: 409,
        title: 'Not proved',
      })
  })

  it('takes no push without a key, with a wrong one, or past somebody else’s change; each says so', async () => {
    const push = (step = 'prove') => admin('POST', `/domains/${id}/push`, { step })
    expect((await push()).body).toMatchObject({ status: 409, title: 'No update key' })
    expect(
      (await admin('PUT', `/domains/${id}/key`, { server: 'ns1', name: 'k', secret: 'short' })).body.errors.map(
        (fault: Told) => fault.pointer,
      ),
    ).toEqual(['/server', '/secret'])
    await admin('PUT', `/domains/${id}/key`, {
      server: NAME_SERVERS[0],
      name: KEY.name,
      secret: Buffer.alloc(32).toString('base64'),
    })
    expect((await push()).body).toMatchObject({ status: 502, detail: expect.stringContaining('BADSIG') })
    expect(JSON.stringify(await fides.db.UpdateKey.findAll())).not.toContain(KEY.secret)
    await admin('PUT', `/domains/${id}/key`, { server: NAME_SERVERS[0], name: KEY.name, secret: KEY.secret })
    outside.world.put('rider.example.', RIDER.replace('198.51.100.7', '198.51.100.8'))
    const refused = await push('switch')
    expect(refused.body).toMatchObject({
      status: 409,
      title: 'The zone changed meanwhile',
      detail: expect.stringContaining('the A records of rider.example are 198.51.100.8 and were 198.51.100.7'),
    })
    outside.world.put('rider.example.', RIDER)
    const { body } = await admin('GET', '/ledger?kind=domain&limit=1')
    expect(body.items[0].action).toBe('set-key')
    expect(JSON.stringify(body.items)).not.toContain(KEY.secret)
  })

  it('is pushed step by step, each in its time', async () => {
    await outside.world.prime(['rider.example'], ['A', 'AAAA'])
    const lowered = await admin('POST', `/domains/${id}/push`, {})
    expect(lowered.body).toMatchObject({ step: 'lower-ttl', added: [{ type: 'A', ttl: 300 }] })
    await until('the TTL seen lowered', async () => (await stateOf('lower-ttl')) === 'done')
    const early = await admin('POST', `/domains/${id}/push`, {})
    if (early.status !== 409) expect(early.body.step).toBe('prove')
    else {
      expect(early.body.title).toBe('Wait first')
      await until('the old TTL waited out', async () => (await stateOf('wait-old-ttl')) === 'done')
      expect((await admin('POST', `/domains/${id}/push`, {})).body.step).toBe('prove')
    }
    await until('the proof seen', async () => (await domain()).standing === 'proved')
    expect((await admin('POST', `/domains/${id}/push`, {})).body).toMatchObject({
      step: 'switch',
      removed: [{ type: 'A', data: '198.51.100.7' }],
    })
    expect((await admin('POST', `/domains/${id}/push`, { step: 'switch' })).body).toMatchObject({
      status: 409,
      title: 'Nothing to place',
    })
    await until('spreading', async () => (await domain()).standing === 'spreading')
    const zone = outside.world.authorities[0]!.zones.get('rider.example.')!
    expect(zone.set('rider.example.', 'MX').map((record) => record.data)).toEqual(['10 mail.rider.example.'])
  })

  it('tells who sees it and when everyone will', async () => {
    const forecast = (await admin('GET', `/domains/${id}/forecast`)).body
    expect(forecast.ttlSpeed).toBe(SPEED)
    expect(Date.parse(forecast.everyoneBy)).toBeGreaterThan(Date.parse(forecast.changedAt))
    expect(forecast.resolvers.map((resolver: Told) => resolver.server)).toEqual([
      'Resolver A',
      'Resolver B',
      'Resolver C',
    ])
    const { body } = await admin('GET', `/domains/${id}/observations`)
    expect(body.servers.map((server: Told) => server.server)).toEqual([
      'ns1.rider.example',
      'ns2.rider.example',
      'Resolver A',
      'Resolver B',
      'Resolver C',
    ])
    expect(
      body.items
        .filter((item: Told) => item.role === 'authority' && item.type === 'A')
        .map((item: Told) => [item.data, item.sight]),
    ).toEqual([
      [[GATEWAY.ipv4], 'new'],
      [[GATEWAY.ipv4], 'new'],
    ])
  })

  it('is reached, opens, and its waiting link works at once', async () => {
    const link = await fides.link({ domain: 'rider.example', slug: 'survey' })
    expect(link.waiting).toBe(true)
    expect((await fides.visit('rider.example/survey')).status).toBe(421)
    await until('everybody sees it', async () => (await stateOf('wait')) === 'done')
    expect(await domain()).toMatchObject({ links: 1, next: 'Open it for 1 waiting link' })
    const opened = await admin('POST', `/domains/${id}/open`, { reason: 'All see it' })
    expect(opened.body).toMatchObject({ live: 1, domain: { standing: 'open' } })
    await until(
      'the link live',
      async () => (await fides.visit('rider.example/survey')).location === 'https://www.example/page',
      1500,
    )
    expect((await admin('POST', `/domains/${id}/open`, {})).body.title).toBe('Open already')
  })
})

describe('the docket', () => {
  let id: number
  const cases = async (query = '') =>
    (await fides.call('viewer', 'GET', `/cases?lane=domains&domain=${id}${query}`)).body.items as Told[]
  const caseOf = (kind: string) =>
    until(`the case ${kind}`, async () => (await cases()).find((found) => found.kind === kind))
  const patch = (found: Told, body: object) =>
    fides.call('editor', 'PATCH', `/cases/${found.id}`, body, { 'if-match': `"${found.version}"` })
  const zone = () => outside.world.authorities[0]!.zones.get('rider.example.')!
  const setAddress = (address: string) => {
    outside.world.authorities[0]!.zones.put(
      'rider.example.',
      zone().records.map((record) =>
        record.type === 'A' && record.name === 'rider.example.' ? { ...record, data: address } : record,
      ),
    )
    outside.world.catchUp()
  }
  beforeAll(async () => {
    id = (await admin('GET', '/domains')).body.items.find((item: Told) => item.host === 'rider.example').id
  })

  it('gets a case when records are changed away, and the domain drifts', async () => {
    await fides.db.sequelize.query(
      'INSERT INTO visit_day (link_id, day, visits) SELECT id, UTC_DATE(), 280 FROM link WHERE slug = ' +
        "'survey' AND domain_id = ? ON DUPLICATE KEY UPDATE visits = 280",
      { replacements: [id] },
    )
    await refreshVisitFigures(fides.db)
    setAddress('203.0.113.66')
    const found = await caseOf('address-changed')
    expect(found).toMatchObject({
      kind: 'address-changed',
      severity: 'broken',
      impact: expect.closeTo(10, 0),
      state: 'open',
      domain: { host: 'rider.example' },
      sentence: expect.stringContaining('203.0.113.66 for A'),
    })
    expect((await admin('GET', `/domains/${id}`)).body).toMatchObject({
      standing: 'drifted',
      cases: 1,
      next: 'Settle one case',
    })
    // Drifted is still open: whoever is led here gets there.
    expect((await fides.visit('rider.example/survey')).status).toBe(302)
  })

  it('sets it aside with a reason, and takes that back', async () => {
    const [found] = await cases()
    expect(
      (await patch(found!, { state: 'set-aside', until: '2020-01-01T00:00:00Z', reason: 'x' })).body.errors[0].pointer,
    ).toBe('/until')
    expect(
      (await patch(found!, { state: 'set-aside', until: new Date(Date.now() + 86_400_000).toISOString() })).body
        .errors[0].pointer,
    ).toBe('/reason')
    const aside = await patch(found!, {
      state: 'set-aside',
      until: new Date(Date.now() + 86_400_000).toISOString(),
      reason: 'The agency is at it',
    })
    expect(aside.body).toMatchObject({ state: 'set-aside', reason: 'The agency is at it' })
    expect(await cases()).toEqual([])
    expect(await cases('&state=set-aside')).toHaveLength(1)
    expect((await patch(found!, { state: 'open' })).status).toBe(412)
    const { body } = await fides.call('editor', 'GET', '/ledger?kind=case&limit=1')
    expect(body.items[0]).toMatchObject({ action: 'set-aside', undoable: true })
    expect((await fides.call('editor', 'POST', `/ledger/${body.items[0].id}/undo`, {})).status).toBe(201)
    expect(await cases()).toHaveLength(1)
  })

  it('comes back when its time aside is over', async () => {
    const [found] = await cases()
    await patch(found!, { state: 'set-aside', until: new Date(Date.now() + 1500).toISOString(), reason: 'A moment' })
    const back = await caseOf('address-changed')
    expect(back).toMatchObject({ id: found!.id, state: 'open', reopenedAt: expect.any(String) })
  })

  it('offers a verified remedy; applied, the case settles by itself, and the push can be undone', async () => {
    const [found] = await cases()
    const { body } = await fides.call('viewer', 'GET', `/cases/${found!.id}`)
    expect(body.remedies[0]).toMatchObject({
      title: 'Put the records back',
      applies: true,
      visitsKept: expect.closeTo(10, 0),
      verified: expect.stringContaining(`answers A ${GATEWAY.ipv4}`),
      records: [{ type: 'A', data: GATEWAY.ipv4 }],
    })
    const apply = (remedy: string, version = body.version, who: Who = 'administrator') =>
      fides.call(who, 'POST', `/cases/${found!.id}/remedies/${remedy}`, undefined, { 'if-match': `"${version}"` })
    expect((await apply('put-back', body.version, 'editor')).status).toBe(403)
    expect((await apply('no-such')).status).toBe(404)
    expect((await apply('put-back', body.version - 1)).status).toBe(412)
    expect((await admin('POST', `/cases/${found!.id}/remedies/put-back`)).status).toBe(428)
    expect((await apply('put-back')).body.sentence).toContain('took the change')
    await until('the case settled', async () => (await cases('&state=settled'))[0]?.settledBy === 'itself')
    expect((await admin('GET', `/domains/${id}`)).body.standing).toBe('open')

    const { body: ledger } = await admin('GET', '/ledger?kind=domain&limit=20')
    const push = ledger.items.find((entry: Told) => entry.action === 'push')
    expect((await admin('POST', `/ledger/${push.id}/undo`, {})).status).toBe(201)
    expect(
      zone()
        .set('rider.example.', 'A')
        .map((record) => record.data),
    ).toEqual(['203.0.113.66'])
    const again = await caseOf('address-changed')
    expect(again).toMatchObject({ id: found!.id, settledAt: null, reopenedAt: expect.any(String) })
    setAddress(GATEWAY.ipv4)
    await until('settled again', async () => (await cases()).length === 0)
  })

  it('tells when one name server only was changed, and does not settle for its silence', async () => {
    const second = outside.world.authorities[1]!
    second.zones.put(
      'rider.example.',
      zone().records.filter((record) => !(record.type === 'A' && record.name === 'rider.example.')),
    )
    const found = await caseOf('one-server-changed')
    expect(found).toMatchObject({
      kind: 'one-server-changed',
      sentence: expect.stringContaining('ns2.rider.example answers no such record'),
    })
    second.faults = { silent: true }
    const before = (await admin('GET', `/domains/${id}`)).body.lookedAt
    await until(
      'two more looks',
      async () => Date.parse((await admin('GET', `/domains/${id}`)).body.lookedAt) > Date.parse(before) + 3000,
    )
    expect(await cases()).toHaveLength(1)
    second.faults = {}
    outside.world.catchUp()
    await until('settled', async () => (await cases()).length === 0)
  })

  it('tells when CAA shuts the issuer out, and offers to let it in', async () => {
    outside.world.authorities[0]!.zones.put('rider.example.', [
      ...zone().records,
      { name: 'rider.example.', type: 'CAA', ttl: 60, data: '0 issue "other.example"' },
    ])
    outside.world.catchUp()
    const found = await caseOf('caa-shuts-out')
    expect(found).toMatchObject({ kind: 'caa-shuts-out', severity: 'doubtful' })
    const applied = await admin('POST', `/cases/${found!.id}/remedies/let-issuer-in`, undefined, {
      'if-match': `"${found!.version}"`,
    })
    expect(applied.status).toBe(200)
    await until('settled', async () => (await cases()).length === 0)
    expect(
      zone()
        .set('rider.example.', 'CAA')
        .map((record) => record.data)
        .sort(),
    ).toEqual(['0 issue "ca.example"', '0 issue "other.example"'])
  })

  it('tells of a registration about to run out, until a later date is noted', async () => {
    const save = async (patch: object) => {
      const { body } = await admin('GET', `/domains/${id}`)
      return admin('PATCH', `/domains/${id}`, patch, { 'if-match': `"${body.version}"` })
    }
    await save({
      expiresOn: new Date(Date.now() + 20 * 86_400_000).toISOString().slice(0, 10),
      registrar: 'Harbour Names',
    })
    const found = await caseOf('renewal-due')
    expect(found).toMatchObject({ kind: 'renewal-due', headline: 'The registration runs out in 20 days' })
    await save({ expiresOn: '2030-01-01' })
    await until('settled', async () => (await cases()).length === 0)
  })

  it.each([
    ['sound', null, /serves a certificate by Harbour Test Authority, good until 2126-01-01/],
    ['other', 'it is for other names', /browsers refuse: it is for other names/],
    ['expired', 'it has expired', /browsers refuse: it has expired/],
  ] as const)('reads what the front serves: a certificate that is %s', async (name, fault, sentence) => {
    outside.serve(name)
    const { body } = await fides.call('viewer', 'GET', `/domains/${id}/certificate`)
    expect(body.served).toMatchObject({
      answered: true,
      fault,
      issuer: 'Harbour Test Authority',
      names: [name === 'other' ? 'www.rider.example' : 'rider.example'],
    })
    expect(body.served.sentence).toMatch(sentence)
    expect(body).toMatchObject({ names: [{ name: 'rider.example' }], issuers: ['ca.example'], caa: { allowed: true } })
  })

  it('reads what the front serves: a certificate whose end is no date, without the desk ending over it', async () => {
    const { pid } = fides.process('admin').child
    outside.serve('unreadable')
    const { body } = await fides.call('viewer', 'GET', `/domains/${id}/certificate`)
    expect(body.served).toMatchObject({ answered: true, validTo: null, fault: expect.any(String) })
    expect(fides.process('admin').child.pid).toBe(pid)
    outside.serve('sound')
  })

  it('survives the database going away', async () => {
    await fides.system.crashDatabase()
    expect((await admin('GET', '/cases')).status).toBe(503)
    fides.system.takeDatabase(await fides.startDatabaseAgain())
    const before = Date.now()
    await until(
      'a look after it',
      async () => Date.parse((await admin('GET', `/domains/${id}`)).body.lookedAt ?? '') > before,
      60_000,
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
    await fides.link({ domain: 'old.test', slug: 'survey' })
    expect((await read(line('/survey'))).body.items[0]).toMatchObject({ taken: true, destination: '' })
    expect((await read('not a log')).body.errors[0].pointer).toBe('/log')
    expect((await read(line('/a'), 'javascript:x')).body.errors[0].pointer).toBe('/to')
  })
})
