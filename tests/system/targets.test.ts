// The checks as processes: a worker that asks, the desk that tells, sites that break and are mended.
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { SitesWorld } from '../../standins/sites/world'
import { ADDRESS, TargetWorld } from './target-world'
import { TestFides, until, type Told } from './fides'

const SITE = 'www.site.example'
const PAGES = {
  '/': 'The front page',
  '/network/map.pdf': 'Map of the night network',
  '/network/': 'The night network',
  '/fares': 'Fares',
}

let fides: TestFides
let sites: SitesWorld
let world: TargetWorld
const as = <Body = Told>(method: string, path: string, body?: unknown, headers?: Record<string, string>) =>
  fides.call<Body>('administrator', method, path, body, headers)

beforeAll(async () => {
  world = await TargetWorld.start()
  sites = world.sites
  for (const host of [SITE, 'other.site.example', 'ferry.site.example'])
    sites.put({ host, title: 'A site', pages: PAGES })
  fides = await TestFides.start({ environment: () => world.environment })
  const { headers } = await as('GET', '/settings')
  await as(
    'PATCH',
    '/settings',
    { brokenAfter: 2, brokenOverMinutes: 0, checkPerSecond: 50, checkContact: 'web@port.test' },
    { 'if-match': headers.get('etag')! },
  )
})
afterAll(async () => {
  await fides.stop()
  await world.stop()
})

/** Has links checked and waits until that is done. */
async function checkNow(request: object): Promise<Told> {
  const asked = await as('POST', '/checks', request)
  expect(asked.status).toBe(202)
  return until('the checks to be done', async () => {
    const { body } = await as('GET', `/checks/${asked.body.id}`)
    return body.state === 'done' ? body : undefined
  })
}
const targetOf = async (link: Told) => (await as('GET', `/links/${link.id}`)).body.target as Told
const caseOf = async (link: Told) =>
  ((await as('GET', '/cases?lane=targets')).body.items as Told[]).find(({ links, subject }) =>
    [links, subject].flat().some((one) => one === link.id || String(one).startsWith(link.address)),
  )

describe('a link’s destination', () => {
  it('is checked by itself as soon as the link is made, and told with it', async () => {
    const link = await fides.link({ slug: 'fares', destination: `https://${SITE}/fares` })
    const target = await until('the first check', () => targetOf(link))
    expect(target).toMatchObject({ verdict: 'sound', confidence: 'sound', final: `https://${SITE}/fares` })
    const { body } = await as('GET', `/links/${link.id}/checks`)
    expect(body.items[0]).toMatchObject({ verdict: 'sound', failed: false, hops: [{ status: 200, address: ADDRESS }] })
    expect(body.frames).toEqual({ allowed: true, field: '' })
    const listed = await as('GET', '/links?target=sound')
    expect((listed.body.items as Told[]).map(({ id }) => id)).toContain(link.id)
    expect((await as('GET', '/links/counts')).body.targets.sound).toBeGreaterThan(0)
  })

  it(
    'breaks, is in doubt, is a case, is mended by its sitemap; the visitor lands; the case settles and comes ' + 'back',
    async () => {
      const link = await fides.link({ slug: 'night', destination: `https://${SITE}/network/map.pdf` })
      await until('the first check', () => targetOf(link))
      sites.setPages(SITE, { '/': 'The front page', '/network/': 'The night network', '/network/map-2027.pdf': 'Map' })
      await checkNow({ links: [link.id] })
      expect(await targetOf(link)).toMatchObject({ verdict: 'not-found', confidence: 'doubtful' })
      expect(await caseOf(link)).toBeUndefined()
      await checkNow({ links: [link.id] })
      expect(await targetOf(link)).toMatchObject({ confidence: 'broken' })
      const found = await until('the case', () => caseOf(link))
      expect(found).toMatchObject({ kind: 'not-found', severity: 'broken', headline: 'Page not found (404)' })
      const remedy = await until('the remedy', async () =>
        ((await as('GET', `/cases/${found.id}`)).body.remedies as Told[]).find(({ id }) => id.startsWith('sitemap-')),
      )
      expect(remedy).toMatchObject({ applies: true, destination: `https://${SITE}/network/map-2027.pdf` })
      const { headers } = await as('GET', `/cases/${found.id}`)
      const applied = await as(
        'POST',
        `/cases/${found.id}/remedies/${remedy.id}`,
        {},
        { 'if-match': headers.get('etag')! },
      )
      expect(applied.status).toBe(200)
      await until('the visitor to land', async () => {
        const { location } = await fides.visit('ansl.example/night')
        return location === `https://${SITE}/network/map-2027.pdf`
      })
      await until('the case to settle', async () => (await as('GET', `/cases/${found.id}`)).body.state === 'settled')
      const { body: ledger } = await as('GET', `/links/${link.id}/history`)
      expect((await as('GET', `/cases/${found.id}`)).body.settledBy).toBe(ledger.items[0].actor)
      await as('POST', `/ledger/${ledger.items[0].id}/undo`, {})
      await until('the case to come back', async () => (await as('GET', `/cases/${found.id}`)).body.state === 'open')
    },
  )

  it('is nobody’s fault when it is this machine that is cut off', async () => {
    const link = await fides.link({ slug: 'cut-off', destination: 'https://other.site.example/fares' })
    await until('the first check', () => targetOf(link))
    world.cutOff(true)
    try {
      // Where it is, is known for some seconds still.
      const run = await until(
        'checks to rest',
        async () => {
          const asked = await as('POST', '/checks', { links: [link.id] })
          return until('the checks to be done or to rest', async () => {
            const { body } = await as('GET', `/checks/${asked.body.id}`)
            return body.state === 'done' ? 'done' : body.pausedSince ? body : undefined
          }).then((body) => (body === 'done' ? undefined : (body as Told)))
        },
        60_000,
      )
      const before = (await as('GET', `/links/${link.id}/checks`)).body.items.length
      expect(run).toMatchObject({ state: 'running', done: 0 })
      expect((await as('GET', `/links/${link.id}/checks`)).body.items.length).toBe(before)
      expect(await targetOf(link)).toMatchObject({ confidence: 'sound' })
      expect((await as('DELETE', `/checks/${run.id}`)).status).toBe(204)
    } finally {
      world.cutOff(false)
    }
  }, 120_000)
})

describe('before a link is made', () => {
  it('its destination is told in one sentence', async () => {
    sites.play('ferry.site.example', '/fares', 'soft-sign-in')
    const preview = (destination: string) => fides.call('editor', 'POST', '/checks/preview', { destination })
    expect((await preview('https://ferry.site.example/fares')).body).toMatchObject({
      verdict: 'sign-in',
      confidence: 'broken',
      sentence: 'Sign-in required: visitors see a sign-in form.',
    })
    expect((await preview(`https://${SITE}/network/`)).body).toMatchObject({
      verdict: 'sound',
      card: { title: 'The night network' },
      frames: { allowed: true },
    })
    expect((await preview('http://127.0.0.1:3000/')).body.sentence).toMatch(/inside a private network/)
    expect((await preview('ftp://x.example/')).status).toBe(422)
    expect((await fides.call('viewer', 'POST', '/checks/preview', { destination: `https://${SITE}/` })).status).toBe(
      403,
    )
    expect((await fides.call('stranger', 'POST', '/checks/preview', { destination: `https://${SITE}/` })).status).toBe(
      401,
    )
  })
  it('asks for nobody more than forty times a minute', async () => {
    const statuses = await Promise.all(
      Array.from({ length: 60 }, () => as('POST', '/checks/preview', { destination: `https://${SITE}/` })),
    )
    const count = (status: number) => statuses.filter((answer) => answer.status === status).length
    expect(count(200)).toBeLessThanOrEqual(40)
    expect(count(200) + count(429)).toBe(60)
  })
})

describe('the trace', () => {
  it(
    'goes on to the final page, names the hop that lost a parameter, and is green only where one ' + 'arrives',
    async () => {
      sites.play('ferry.site.example', '/network/', 'parameters-dropped')
      await fides.link({ slug: 'lossy', destination: 'https://ferry.site.example/network/?ref=pat-04' })
      const traced = (address: string, who: 'editor' | 'viewer' = 'editor') =>
        fides.call(who, 'POST', '/trace', { address, follow: true })
      const lossy = (await traced('ansl.example/lossy')).body
      expect(lossy.verdict.state).toBe('doubtful')
      expect(lossy.onward.parameters).toEqual([
        { name: 'ref', value: 'pat-04', lostAt: 2, by: expect.stringContaining('ferry.site.example') },
      ])
      await fides.link({ slug: 'hall', destination: `https://${SITE}/network/` })
      const fine = (await traced('ansl.example/hall')).body
      expect(fine).toMatchObject({ verdict: { state: 'sound' }, onward: { final: `https://${SITE}/network/` } })
      await fides.link({ slug: 'through', destination: 'https://go.example/on', reason: 'a chain' })
      await fides.link({ domain: 'go.example', slug: 'on', destination: `https://${SITE}/nowhere` })
      const through = (await traced('ansl.example/through', 'viewer')).body
      expect(through.onward.hops).toMatchObject([{ address: 'our own table' }, { status: 404 }])
      expect(through.verdict.state).toBe('broken')
      const unknown = (await as('POST', '/trace', { address: 'ansl.example/through' })).body
      expect(unknown.verdict.state).not.toBe('sound')
      expect(unknown.onward).toBeNull()
    },
  )
})

describe('settings of checks', () => {
  it('are the administrator’s, under a version, in the ledger', async () => {
    for (const who of ['editor', 'viewer'] as const)
      expect((await fides.call(who, 'GET', '/settings')).status).toBe(403)
    const { body, headers } = await as('GET', '/settings')
    const tag = { 'if-match': headers.get('etag')! }
    expect((await as('PATCH', '/settings', { checkNetworks: ['10.0.0.0/40'] }, tag)).body.errors[0].pointer).toBe(
      '/checkNetworks/0',
    )
    expect((await as('PATCH', '/settings', { checkPerHost: 3 }, tag)).status).toBe(200)
    const late = await as('PATCH', '/settings', { checkPerHost: 4 }, tag)
    expect(late).toMatchObject({ status: 412, body: { current: { checkPerHost: 3 } } })
    const [entry] = (await as('GET', '/ledger?kind=organisation')).body.items as Told[]
    expect(entry).toMatchObject({ action: 'change', undoRole: 'administrator' })
    await as('POST', `/ledger/${entry!.id}/undo`, {})
    expect((await as('GET', '/settings')).body.checkPerHost).toBe(body.checkPerHost)
  })
  it('refuse to be guessed at: checks need an editor', async () => {
    expect((await fides.call('viewer', 'POST', '/checks', { all: true })).status).toBe(403)
    expect((await as('POST', '/checks', {})).status).toBe(422)
    expect((await as('POST', '/checks', { all: true, domain: 'ansl.example' })).status).toBe(422)
    expect((await as('GET', '/checks/999999')).status).toBe(404)
  })
})
