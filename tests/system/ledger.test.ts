import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { TestFides, until, type Told } from './fides'

let fides: TestFides
// Two serving processes, so that each must follow the ledger by itself.
beforeAll(async () => (fides = await TestFides.start({ environment: { FIDES_GATEWAY_PROCESSES: '2' } })))
afterAll(() => fides.stop())

const domainOf = async (host: string): Promise<Told> =>
  (await fides.call('viewer', 'GET', '/domains')).body.items.find((domain: Told) => domain.host === host)
const changeDomain = async (host: string, body: object) => {
  const domain = await domainOf(host)
  return fides.call('administrator', 'PATCH', `/domains/${domain.id}`, body, { 'if-match': `"${domain.version}"` })
}
/** What several fresh connections are answered, so that both processes are asked. */
const everywhere = async (address: string) => Promise.all(Array.from({ length: 12 }, () => fides.visit(address)))

describe('a change, with two gateway processes', () => {
  it('is live in both within a second', async () => {
    const link = await fides.link({ slug: 'pair', destination: 'https://one.example/' })
    await until(
      'made in both',
      async () => (await everywhere('ansl.example/pair')).every((answer) => answer.location === 'https://one.example/'),
      1500,
    )
    await fides.change(link as never, { destination: 'https://two.example/' })
    await until(
      'changed in both',
      async () => (await everywhere('ansl.example/pair')).every((answer) => answer.location === 'https://two.example/'),
      1500,
    )
  })

  it('of a domain’s fallbacks, window and standing is, too', async () => {
    const perm = await fides.link({ slug: 'perm', status: 301 })
    expect(
      (
        await changeDomain('ansl.example', {
          rootDestination: 'https://www.example/',
          notFoundDestination: 'https://www.example/lost',
          permanenceSeconds: 600,
        })
      ).status,
    ).toBe(200)
    await until(
      'the not-found address',
      async () =>
        (await everywhere('ansl.example/nothing')).every((answer) => answer.location === 'https://www.example/lost'),
      1500,
    )
    expect(await fides.visit('ansl.example/')).toMatchObject({ status: 302, location: 'https://www.example/' })
    expect((await fides.visit('ansl.example/perm')).headers['cache-control']).toBe('max-age=600')
    expect(perm.status).toBe(301)
    await fides.link({ slug: 'early', domain: 'coming.example' })
    expect((await fides.visit('coming.example/early')).status).toBe(421)
    await fides.link({ slug: 'shut', domain: 'go.example' })
    await changeDomain('go.example', { standing: 'not-proved' })
    await until(
      'the domain closed',
      async () => (await everywhere('go.example/shut')).every((answer) => answer.status === 421),
      1500,
    )
    const { body } = await fides.call('administrator', 'GET', '/ledger?kind=domain&limit=1')
    expect((await fides.call('administrator', 'POST', `/ledger/${body.items[0].id}/undo`, {})).status).toBe(201)
    await until(
      'the domain open again',
      async () => (await everywhere('go.example/shut')).every((answer) => answer.status === 302),
      1500,
    )
  })
})

describe('the ledger', () => {
  it('tells who did what, newest first, page by page, and can be searched', async () => {
    const link = await fides.link({ slug: 'storied', title: 'One', reason: 'For the poster' })
    await fides.change(link as never, { title: 'Two', reason: 'Shorter' }, 'administrator')
    const history = await fides.call('viewer', 'GET', `/links/${link.id}/history`)
    expect(history.body.items.map((entry: Told) => [entry.action, entry.actor, entry.reason])).toEqual([
      ['change', 'administrator', 'Shorter'],
      ['create', 'editor', 'For the poster'],
    ])
    expect(history.body.items[0]).toMatchObject({
      before: { title: 'One' },
      after: { title: 'Two' },
      subject: { label: 'ansl.example/storied' },
    })

    const seen: number[] = []
    let cursor: string | null = null
    do {
      const page: { body: Told } = await fides.call(
        'viewer',
        'GET',
        `/ledger?limit=3${cursor ? `&cursor=${cursor}` : ''}`,
      )
      seen.push(...page.body.items.map((entry: Told) => entry.id))
      cursor = page.body.next
    } while (cursor)
    expect(seen).toEqual([...seen].sort((a, b) => b - a))
    expect(seen).toHaveLength(await fides.db.LedgerEntry.count())
    expect((await fides.call('viewer', 'GET', '/ledger?q=For%20the%20poster')).body.items).toHaveLength(1)
    expect((await fides.call('viewer', 'GET', '/ledger?q=%25')).body.items).toHaveLength(0)
    expect(
      (await fides.call('viewer', 'GET', '/ledger?kind=domain')).body.items.every(
        (entry: Told) => entry.subject.kind === 'domain',
      ),
    ).toBe(true)
    expect((await fides.call('viewer', 'GET', '/links/99999/history')).status).toBe(404)
  })

  it('lets only an administrator undo a change of a domain', async () => {
    await changeDomain('go.example', { defaultStatus: 307 })
    const entry = (await fides.call('viewer', 'GET', '/ledger?kind=domain&limit=1')).body.items[0]
    expect((await fides.call('editor', 'POST', `/ledger/${entry.id}/undo`, {})).status).toBe(403)
    expect((await fides.call('administrator', 'POST', `/ledger/${entry.id}/undo`, {})).status).toBe(201)
    expect((await domainOf('go.example')).defaultStatus).toBe(302)
    expect((await fides.call('administrator', 'POST', '/ledger/99999/undo', {})).status).toBe(404)
  })

  it('never holds a password or a token', async () => {
    const { body: invited } = await fides.call('administrator', 'POST', '/members', {
      name: 'New',
      email: 'new@port.test',
      role: 'viewer',
    })
    const word = invited.address.path.split('#')[1]
    const password = 'correct mussel lantern'
    expect((await fides.call('stranger', 'POST', '/welcome/password', { word, password })).status).toBe(200)
    const { body } = await fides.call('viewer', 'POST', '/tokens', { name: 'Figures', scope: 'read' })
    const text = JSON.stringify((await fides.call('administrator', 'GET', '/ledger?limit=200')).body)
    expect(text).toContain('new@port.test')
    expect(text).not.toContain(password)
    expect(text).not.toContain(word)
    expect(text).not.toContain('scrypt')
    expect(text).not.toContain(body.secret)
  })

  it('is untouched by a save that changes nothing', async () => {
    const link = await fides.link({ slug: 'same', title: 'Same' })
    const before = await fides.db.LedgerEntry.count()
    const saved = await fides.change(link as never, { title: 'Same' })
    expect(saved.body.version).toBe(link.version)
    expect(await fides.db.LedgerEntry.count()).toBe(before)
  })
})

describe('tags', () => {
  it('are one, whatever their capitals, and counted', async () => {
    await fides.link({ slug: 'tag-1', tags: ['Night', 'poster'] })
    await fides.link({ slug: 'tag-2', tags: ['night'] })
    const { body } = await fides.call('viewer', 'GET', '/tags')
    expect(body.items).toEqual([
      { name: 'Night', links: 2 },
      { name: 'poster', links: 1 },
    ])
  })
})
