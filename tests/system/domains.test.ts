import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { DomainWorld, RIDER, SPEED } from './domain-world'
import { until, type Told } from './fides'
import { GATEWAY, KEY, NAME_SERVERS } from './outside'

const world = new DomainWorld()
const { admin, add, bring } = world
beforeAll(() => world.start())
afterAll(() => world.stop())
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
    expect(JSON.stringify(await world.fides.db.UpdateKey.findAll())).not.toContain(KEY.secret)
    await admin('PUT', `/domains/${id}/key`, { server: NAME_SERVERS[0], name: KEY.name, secret: KEY.secret })
    world.outside.world.put('rider.example.', RIDER.replace('198.51.100.7', '198.51.100.8'))
    const refused = await push('switch')
    expect(refused.body).toMatchObject({
      status: 409,
      title: 'The zone changed meanwhile',
      detail: expect.stringContaining('the A records of rider.example are 198.51.100.8 and were 198.51.100.7'),
    })
    world.outside.world.put('rider.example.', RIDER)
    // The watch notes what it sees there, too, whenever it looks.
    const { body } = await admin('GET', '/ledger?kind=domain&limit=20')
    const entries = (body.items as { action: string; reason: string }[]).filter(({ action }) => action !== 'see')
    // Each try is on record, those that failed too, with why; none of them can be undone.
    expect(entries.slice(0, 3)).toMatchObject([
      { action: 'push-failed', reason: expect.stringContaining('are 198.51.100.8 and were 198.51.100.7') },
      { action: 'set-key' },
      { action: 'push-failed', reason: expect.stringContaining('BADSIG') },
    ])
    expect(JSON.stringify(body.items)).not.toContain(KEY.secret)
  })

  it('is pushed step by step, each in its time', async () => {
    await world.outside.world.prime(['rider.example'], ['A', 'AAAA'])
    const lowered = await admin('POST', `/domains/${id}/push`, {})
    expect(lowered.body).toMatchObject({ step: 'lower-ttl', added: [{ type: 'A', ttl: 300 }] })
    await until('the TTL seen lowered', async () => (await stateOf('lower-ttl')) === 'done')
    const early = await admin('POST', `/domains/${id}/push`, {})
    if (early.status !== 409) {
      // Only because the old TTL had run out by then.
      expect(early.body.step).toBe('prove')
      expect(await stateOf('wait-old-ttl')).toBe('done')
    } else {
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
    const zone = world.outside.world.authorities[0]!.zones.get('rider.example.')!
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
    const link = await world.fides.link({ domain: 'rider.example', slug: 'survey' })
    expect(link.waiting).toBe(true)
    expect((await world.fides.visit('rider.example/survey')).status).toBe(421)
    await until('everybody sees it', async () => (await stateOf('wait')) === 'done')
    expect(await domain()).toMatchObject({ links: 1, next: 'Open it for 1 waiting link' })
    const opened = await admin('POST', `/domains/${id}/open`, { reason: 'All see it' })
    expect(opened.body).toMatchObject({ live: 1, domain: { standing: 'open' } })
    await until(
      'the link live',
      async () => (await world.fides.visit('rider.example/survey')).location === 'https://www.example/page',
      1500,
    )
    expect((await admin('POST', `/domains/${id}/open`, {})).body.title).toBe('Open already')
  })
})
