import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { refreshVisitFigures } from '../../server/usecases/traffic/refresh-visit-figures'
import { DomainWorld, RIDER } from './domain-world'
import { until, type Told, type Who } from './fides'
import { GATEWAY, KEY, NAME_SERVERS } from './outside'

const world = new DomainWorld()
const { admin, add, bring } = world
beforeAll(() => world.start())
afterAll(() => world.stop())
describe('the docket', () => {
  let id: number
  const cases = async (query = '') =>
    (await world.fides.call('viewer', 'GET', `/cases?lane=domains&domain=${id}${query}`)).body.items as Told[]
  const caseOf = (kind: string) =>
    until(`the case ${kind}`, async () => (await cases()).find((found) => found.kind === kind))
  const patch = (found: Told, body: object) =>
    world.fides.call('editor', 'PATCH', `/cases/${found.id}`, body, { 'if-match': `"${found.version}"` })
  const zone = () => world.outside.world.authorities[0]!.zones.get('rider.example.')!
  const setAddress = (address: string) => {
    world.outside.world.authorities[0]!.zones.put(
      'rider.example.',
      zone().records.map((record) =>
        record.type === 'A' && record.name === 'rider.example.' ? { ...record, data: address } : record,
      ),
    )
    world.outside.world.catchUp()
  }
  beforeAll(async () => {
    id = await add('rider.example')
    await bring(id, RIDER)
    await admin('PUT', `/domains/${id}/key`, { server: NAME_SERVERS[0], name: KEY.name, secret: KEY.secret })
    // Each step is taken as soon as it may be.
    for (const step of ['lower-ttl', 'prove', 'switch'])
      await until(`${step} placed`, async () => (await admin('POST', `/domains/${id}/push`, {})).body.step === step)
    await world.fides.link({ domain: 'rider.example', slug: 'survey' })
    await until('open', async () => (await admin('POST', `/domains/${id}/open`, { reason: 'Seen' })).status === 200)
  })

  it('gets a case when records are changed away, and the domain drifts', async () => {
    await world.fides.db.sequelize.query(
      'INSERT INTO visit_day (link_id, day, visits) SELECT id, UTC_DATE(), 280 FROM link WHERE slug = ' +
        "'survey' AND domain_id = ? ON DUPLICATE KEY UPDATE visits = 280",
      { replacements: [id] },
    )
    await refreshVisitFigures(world.fides.db)
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
    expect((await world.fides.visit('rider.example/survey')).status).toBe(302)
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
    const { body } = await world.fides.call('editor', 'GET', '/ledger?kind=case&limit=1')
    expect(body.items[0]).toMatchObject({ action: 'set-aside', undoable: true })
    expect((await world.fides.call('editor', 'POST', `/ledger/${body.items[0].id}/undo`, {})).status).toBe(201)
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
    const { body } = await world.fides.call('viewer', 'GET', `/cases/${found!.id}`)
    expect(body.remedies[0]).toMatchObject({
      title: 'Restore the records',
      applies: true,
      visitsKept: expect.closeTo(10, 0),
      verified: expect.stringContaining(`answers A ${GATEWAY.ipv4}`),
      records: [{ type: 'A', data: GATEWAY.ipv4 }],
    })
    const apply = (remedy: string, version = body.version, who: Who = 'administrator') =>
      world.fides.call(who, 'POST', `/cases/${found!.id}/remedies/${remedy}`, undefined, { 'if-match': `"${version}"` })
    expect((await apply('put-back', body.version, 'editor')).status).toBe(403)
    expect((await apply('no-such')).status).toBe(404)
    expect((await apply('put-back', body.version - 1)).status).toBe(412)
    expect((await admin('POST', `/cases/${found!.id}/remedies/put-back`)).status).toBe(428)
    expect((await apply('put-back')).body.sentence).toContain('took the change')
    await until('the case settled', async () =>
      (await cases('&state=settled')).some((row) => row.id === found!.id && row.settledBy === 'itself'),
    )
    // A name server that is silent for a moment leaves it drifted until the next look.
    await until('open again', async () => (await admin('GET', `/domains/${id}`)).body.standing === 'open')

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
    const second = world.outside.world.authorities[1]!
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
    world.outside.world.catchUp()
    await until('settled', async () => (await cases()).length === 0)
  })

  it('tells when CAA shuts the issuer out, and offers to let it in', async () => {
    world.outside.world.authorities[0]!.zones.put('rider.example.', [
      ...zone().records,
      { name: 'rider.example.', type: 'CAA', ttl: 60, data: '0 issue "other.example"' },
    ])
    world.outside.world.catchUp()
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
    expect(found).toMatchObject({ kind: 'renewal-due', headline: 'The registration expires in 20 days' })
    await save({ expiresOn: '2030-01-01' })
    await until('settled', async () => (await cases()).length === 0)
  })

  it.each([
    ['sound', null, /serves a certificate by Harbour Test Authority, good until 2126-01-01/],
    ['other', 'it is for other names', /browsers refuse: it is for other names/],
    ['expired', 'it has expired', /browsers refuse: it has expired/],
  ] as const)('reads what the front serves: a certificate that is %s', async (name, fault, sentence) => {
    world.outside.serve(name)
    const { body } = await world.fides.call('viewer', 'GET', `/domains/${id}/certificate`)
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
    const { pid } = world.fides.process('admin').child
    world.outside.serve('unreadable')
    const { body } = await world.fides.call('viewer', 'GET', `/domains/${id}/certificate`)
    expect(body.served).toMatchObject({ answered: true, validTo: null, fault: expect.any(String) })
    expect(world.fides.process('admin').child.pid).toBe(pid)
    world.outside.serve('sound')
  })

  it('survives the database going away', async () => {
    await world.fides.system.crashDatabase()
    expect((await admin('GET', '/cases')).status).toBe(503)
    world.fides.system.takeDatabase(await world.fides.startDatabaseAgain())
    const before = Date.now()
    await until(
      'a look after it',
      async () => Date.parse((await admin('GET', `/domains/${id}`)).body.lookedAt ?? '') > before,
      60_000,
    )
  })
})
