import { Agent, request } from 'node:http'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { QueryTypes } from 'sequelize'
import { destinationHash } from '../../server/usecases/links/link-state'
import { TestFides, until, type Told } from './fides'

// Two processes answer at one port: a visitor may meet either with each request.
const LINKS = 400
let fides: TestFides

beforeAll(async () => {
  fides = await TestFides.start({
    environment: { FIDES_GATEWAY_PROCESSES: '2' },
    beside: async (db) => {
      const createdAt = new Date()
      await db.Domain.create({ host: 'rider.example', standing: 'open', createdAt, updatedAt: createdAt })
      const destination = (number: number) => `https://old.example/page/${number}`
      await db.Link.bulkCreate(
        Array.from({ length: LINKS }, (_, index) => ({
          domainId: 1,
          slug: `many/${index}`,
          canonical: `many/${index}`,
          destination: destination(index),
          destinationHash: destinationHash(destination(index)),
          status: 302 as const,
          searchText: `ansl.example/many/${index}`,
          createdAt,
          updatedAt: createdAt,
        })),
      )
    },
  })
  await until('both processes serve', async () => (await health()).processes === 2)
})
afterAll(() => fides.stop())

const health = async (): Promise<Told> =>
  (await fetch(`http://127.0.0.1:${fides.system.settings.FIDES_GATEWAY_CONTROL_PORT}/health`)).json() as Promise<Told>
const admin = (method: string, path: string, body?: unknown, headers?: Record<string, string>) =>
  fides.call('administrator', method, path, body, headers)

/** Where an address leads now, asked on a connection of its own: whichever process takes it answers. */
const ask = (slug: string, host = 'ansl.example') =>
  new Promise<string>((resolve, reject) =>
    request(
      {
        host: '127.0.0.1',
        port: fides.system.settings.FIDES_GATEWAY_PORT,
        path: `/${slug}`,
        agent: new Agent({ keepAlive: false }),
        headers: { host },
      },
      (response) => {
        response.resume().on('end', () => {
          const { location } = response.headers
          resolve(location === undefined ? `page ${response.statusCode}` : new URL(location).hostname.split('.')[0]!)
        })
      },
    )
      .on('error', reject)
      .end(),
  )

/** Asks two addresses in turn, as fast as it can, until both have been new for a while; gives what each was. */
async function watch(one: string, other: string, isNew: string): Promise<string[]> {
  const seen: string[] = []
  for (let news = 0; news < 60 && seen.length < 100_000;) {
    const slug = seen.length % 2 === 0 ? one : other
    const is = await ask(slug)
    seen.push(is)
    news = is === isNew ? news + 1 : 0
  }
  return seen
}

async function propose(from: string, to: string, at: string | null = null): Promise<Told> {
  const { body: made } = await admin('POST', '/changes', {
    select: { host: `${from}.example` },
    change: { steps: [{ do: 'move-host', from: `${from}.example`, to: `${to}.example` }] },
    stops: { broken: false, changed: true },
    at,
    reason: 'for a test',
  })
  return until('worked out', async () => {
    const { body } = await admin('GET', `/changes/${made.id}`)
    return body.state === 'ready' ? body : undefined
  })
}
const apply = ({ id, version }: Told) => admin('POST', `/changes/${id}/apply`, {}, { 'if-match': `"${version}"` })
const firstNew = (seen: readonly string[], isNew: string) => seen.indexOf(isNew)

describe('a change to many links', () => {
  it('is answered anew at every process from one moment on: nobody sees old after new', async () => {
    const proposal = await propose('old', 'new')
    expect(proposal.counts.change).toBe(LINKS)
    const watching = Promise.all([
      watch('many/1', `many/${LINKS - 1}`, 'new'),
      watch(`many/${LINKS - 2}`, 'many/2', 'new'),
    ])
    const applied = await apply(proposal)
    expect(applied.status).toBe(200)
    for (const seen of await watching) {
      const at = firstNew(seen, 'new')
      expect(at).toBeGreaterThan(0)
      expect(new Set(seen.slice(0, at))).toEqual(new Set(['old']))
      expect(new Set(seen.slice(at))).toEqual(new Set(['new']))
    }
  })

  it('is undone the same way', async () => {
    const [entry] = await fides.db.sequelize.query<{ id: number }>(
      "SELECT id FROM ledger_entry WHERE subject_kind = 'links' ORDER BY id DESC LIMIT 1",
      { type: QueryTypes.SELECT },
    )
    const watching = watch('many/3', 'many/250', 'old')
    expect((await admin('POST', `/ledger/${entry!.id}/undo`, {})).status).toBe(201)
    const seen = await watching
    const at = firstNew(seen, 'old')
    expect(new Set(seen.slice(at))).toEqual(new Set(['old']))
  })

  it('set for a moment is made by itself, and answered anew from that moment, not before', async () => {
    const at = new Date(Date.now() + 6000)
    expect((await apply(await propose('old', 'later', at.toISOString()))).body.state).toBe('waiting')
    let before = 0
    for (;;) {
      const asked = Date.now()
      const is = await ask('many/7')
      const told = Date.now()
      if (told < at.getTime()) expect(is).toBe('old')
      if (asked >= at.getTime()) {
        expect(is).toBe('later')
        break
      }
      before++
    }
    expect(before).toBeGreaterThan(10)
  })

  it('leaves an edit of one of its links within the change-over for the same moment', async () => {
    const proposal = await propose('later', 'last')
    await apply(proposal)
    const { body: found } = await admin('GET', '/links?q=many/9&limit=1')
    const edited = await admin(
      'PATCH',
      `/links/${found.items[0].id}`,
      { destination: 'https://edited.example/', reason: 'for a test' },
      { 'if-match': `"${found.items[0].version}"` },
    )
    expect(edited.status).toBe(200)
    await until('the edit is live', async () => (await ask(found.items[0].slug)) === 'edited')
    expect(await ask('many/11')).toBe('last')
  })

  it('moves links to another domain without an old address failing once, and back', async () => {
    const { body: made } = await admin('POST', '/changes', {
      select: { filters: { domain: 'ansl.example' } },
      change: { domain: 'rider.example' },
      reason: 'for a test',
    })
    const proposal = await until('worked out', async () => {
      const { body } = await admin('GET', `/changes/${made.id}`)
      return body.state === 'ready' ? body : undefined
    })
    expect(proposal.counts.change).toBeGreaterThanOrEqual(LINKS)
    const slugs = ['many/20', 'many/399']
    expect(await ask(slugs[0]!, 'rider.example')).toBe('page 404')
    /** Asks the old addresses until the new ones have answered, or no longer do; old ones answer all along. */
    async function watchUntil(isThere: boolean) {
      for (let steady = 0; steady < 20;) {
        for (const slug of slugs) expect(await ask(slug)).toBe('last')
        const now = await Promise.all(slugs.map((slug) => ask(slug, 'rider.example')))
        steady = now.every((is) => is === (isThere ? 'last' : 'page 404')) ? steady + 1 : 0
      }
    }
    const moved = watchUntil(true)
    expect((await apply(proposal)).status).toBe(200)
    await moved
    const entry = (await admin('GET', '/ledger?limit=1')).body.items[0].id
    const back = watchUntil(false)
    expect((await admin('POST', `/ledger/${entry}/undo`, {})).status).toBe(201)
    await back
  })
})
