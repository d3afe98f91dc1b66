import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { rawVisits } from '../../server/usecases/traffic/visit-parts'
import { TestFides, until, type Told } from './fides'

let fides: TestFides
beforeAll(async () => {
  fides = await TestFides.start()
})
afterAll(() => fides.stop())

const PHONE =
  'Mozilla/5.0 (Linux; Android 10; K) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/130.0.0.0 Mobile Safari/537.36'
const COMPUTER = 'Mozilla/5.0 (X11; Linux x86_64; rv:132.0) Gecko/20100101 Firefox/132.0'
const hours = (by: number) => new Date(Date.now() + by * 3_600_000).toISOString()
const span = () => `from=${hours(-24)}&to=${hours(1)}`
const ask = (query: string, who = 'administrator') => fides.call(who as 'administrator', 'GET', `/traffic?${query}`)

describe('traffic', () => {
  it('counts what strangers asked for, by device, language and referrer, a moment later', async () => {
    const { body: link } = await fides.call('administrator', 'POST', '/links', {
      domain: 'ansl.example',
      slug: 'counted',
      destination: 'https://www.portansel.example/counted',
      reason: 'for a test',
    })
    await until(
      'it is live',
      async () => (await fides.visit('ansl.example/counted', { method: 'HEAD' })).status === 302,
    )
    const visit = (headers: Record<string, string>) => fides.visit('ansl.example/counted', { headers })
    for (let n = 0; n < 3; n++)
      await visit({ 'user-agent': PHONE, 'accept-language': 'pt-PT,pt;q=0.9', referer: 'https://www.google.com/' })
    await visit({ 'user-agent': COMPUTER, 'accept-language': 'en' })
    await visit({ 'user-agent': COMPUTER, 'accept-language': 'en', 'sec-gpc': '1' })
    await visit({ 'user-agent': 'Harvestbot/2.1 (+http://crawler.test)' })
    await visit({ 'user-agent': COMPUTER, 'sec-purpose': 'prefetch' })
    const only = `${span()}&link=${link.id}`
    // What was sent last is counted last, perhaps a batch after the others.
    await until('all are counted', async () => (await ask(`${only}&kind=prefetch`)).body.total === 1)
    const { body: told } = await ask(`${only}&by=device`)
    expect(told.total).toBe(5)
    // The one without a token is nobody in particular; three by one phone are one person.
    expect(told.people).toBe(2)
    expect(told.repeats).toBe(2)
    expect(told.rows.map(({ key, visits, people }: Told) => [key, visits, people])).toEqual([
      ['mobile', 3, 1],
      ['desktop', 2, 1],
    ])
    const rows = async (query: string) =>
      (await ask(`${only}&${query}`)).body.rows.map(({ key, visits }: Told) => [key, visits])
    expect(await rows('by=referrer-kind')).toEqual([
      ['search', 3],
      ['none', 2],
    ])
    expect(await rows('by=language&device=mobile')).toEqual([['pt', 3]])
    expect((await ask(`${only}&kind=robot`)).body.total).toBeGreaterThanOrEqual(1)
    const csv = await fides.call<string>('viewer', 'GET', `/traffic?${only}&by=device`, undefined, {
      accept: 'text/csv',
    })
    expect(csv.headers.get('content-type')).toBe('text/csv; charset=utf-8')
    expect(csv.body).toBe('device,visits,people\r\nmobile,3,1\r\ndesktop,2,1\r\n')
    const { body: ledger } = await fides.call('administrator', 'GET', '/ledger?limit=1')
    expect(ledger.items[0]).toMatchObject({
      action: 'export-traffic',
      after: { words: expect.stringContaining('CSV') },
    })

    // Single visits can be forgotten, and by administrators alone.
    expect((await fides.call('editor', 'DELETE', `/links/${link.id}/visits`)).status).toBe(403)
    const forgotten = await fides.call('administrator', 'DELETE', `/links/${link.id}/visits`)
    expect(forgotten.body.forgotten).toBeGreaterThanOrEqual(7)
    for await (const { linkId } of rawVisits(fides.db, new Date(0), new Date(Date.now() + 1000)))
      expect(linkId).not.toBe(link.id)
  })

  it.each([
    ['', ['/from', '/to']],
    ['from=yesterday&to=today', ['/from', '/to']],
    ['from=0001-01-01T00:00:00Z&to=2026-01-01T00:00:00Z', ['/from']],
    ['from=2026-01-02T00:00:00Z&to=2026-01-01T00:00:00Z', ['/to']],
    ['from=2000-01-01T00:00:00Z&to=2199-01-01T00:00:00Z&step=quarter', ['/step']],
    [`${span()}&by=member`, ['/by']],
    [`${span()}&by=link;DROP TABLE link`, ['/by']],
    [`${span()}&kind=everything`, ['/kind']],
    [`${span()}&limit=1000000`, ['/limit']],
    [`${span()}&limit=0`, ['/limit']],
    [`${span()}&hour=168`, ['/hour']],
    [`${span()}&link=1%20OR%201=1`, ['/link']],
    [`${span()}&zone=Nowhere/Else`, ['/zone', '/']],
    [`${span()}&${Array.from({ length: 10_000 }, (_, n) => `tag=t${n}`).join('&')}`.slice(0, 15_000), ['/tag']],
    [`${span()}&tag=${'x'.repeat(400)}`, ['/tag']],
  ])('refuses “%s” with a sentence at its field', async (query, pointers) => {
    const { status, body } = await ask(query)
    expect([400, 422]).toContain(status)
    const told = (body.errors as { pointer: string; detail: string }[]).map(({ pointer }) => pointer)
    expect(pointers.some((pointer) => told.some((one) => one.startsWith(pointer)))).toBe(true)
    for (const { detail } of body.errors as { detail: string }[]) expect(detail).toMatch(/[.…]$/)
  })

  it('finds nothing by what looks like a statement', async () => {
    for (const value of ["'; DROP TABLE link; --", '%', '\\', '${7*7}', '__proto__'])
      for (const name of ['tag', 'owner', 'referrer', 'country', 'domain']) {
        const { status, body } = await ask(`${span()}&by=link&${name}=${encodeURIComponent(value)}`)
        expect([status, body.total]).toEqual([200, 0])
      }
  })

  it('answers forty at once, and takes it that most of them go away', async () => {
    const gone = new AbortController()
    const questions = Array.from({ length: 40 }, (_, n) =>
      fetch(`${fides.system.adminAddress}/api/v1/traffic?from=2000-01-01T00:00:00Z&to=${hours(1)}&by=link`, {
        headers: { cookie: fides.cookieOf('viewer') },
        signal: n < 30 ? gone.signal : undefined,
      }).then(
        (answer) => answer.status,
        () => 0,
      ),
    )
    gone.abort()
    const statuses = await Promise.all(questions)
    expect(statuses.slice(0, 30)).toEqual(Array(30).fill(0))
    for (const status of statuses.slice(30)) expect([200, 429]).toContain(status)
    expect((await ask(`${span()}`)).status).toBe(200)
  })

  it('tells visits as they come to who follows, and nothing to a stranger', async () => {
    expect((await fetch(`${fides.system.adminAddress}/api/v1/traffic/events`)).status).toBe(401)
    const going = new AbortController()
    const answer = await fetch(`${fides.system.adminAddress}/api/v1/traffic/events`, {
      headers: { cookie: fides.cookieOf('viewer') },
      signal: going.signal,
    })
    expect(answer.headers.get('content-type')).toContain('text/event-stream')
    const seen: Told[] = []
    const reading = (async () => {
      let text = ''
      for await (const chunk of answer.body as unknown as AsyncIterable<Uint8Array>) {
        text += new TextDecoder().decode(chunk)
        const lines = text.split('\n')
        text = lines.pop()!
        for (const line of lines) if (line.startsWith('data: ')) seen.push(JSON.parse(line.slice(6)) as Told)
      }
    })().catch(() => undefined)
    await until('it begins', () => Promise.resolve(seen.length > 0))
    await new Promise((resolve) => setTimeout(resolve, 2500))
    const before = seen.length
    const { body: links } = await fides.call('administrator', 'GET', '/links?q=counted&limit=1')
    await fides.visit('ansl.example/counted', { headers: { 'user-agent': PHONE } })
    await until('the visit is told', () =>
      Promise.resolve(seen.slice(before).some((told) => told.links[links.items[0].id] === 1)),
    )
    expect(seen.at(-1)!.minute).toBeGreaterThanOrEqual(1)
    going.abort()
    await reading
  })
})
