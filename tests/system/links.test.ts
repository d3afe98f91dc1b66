import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { TestFides, until, type Answered } from './fides'

let fides: TestFides
beforeAll(async () => (fides = await TestFides.start()))
afterAll(() => fides.stop())

describe('links', () => {
  it('are live at the gateway within a second of being made, changed and undone', async () => {
    const within = (what: string, address: string, location: string) =>
      until(what, async () => (await fides.visit(address)).location === location, 1000)
    const link = await fides.link({ slug: 'Live', destination: 'https://one.example/', status: 307 })
    await within('made', 'ansl.example/live', 'https://one.example/')
    const changed = await fides.change(link as never, { destination: 'https://two.example/' })
    expect(changed.status).toBe(200)
    await within('changed', 'ansl.example/LIVE', 'https://two.example/')
    const history = await fides.call('editor', 'GET', `/links/${link.id}/history`)
    expect((await fides.call('editor', 'POST', `/ledger/${history.body.items[0].id}/undo`, {})).status).toBe(201)
    await within('undone', 'ansl.example/live/', 'https://one.example/')
  })

  it('answer at the gateway by their standing', async () => {
    const paused = await fides.link({ slug: 'resting' })
    await fides.change(paused as never, {
      standing: 'paused',
      resumesAt: new Date(Date.now() + 3_600_000).toISOString(),
    })
    const retired = await fides.link({ slug: 'old' })
    await fides.change(retired as never, { standing: 'retired' })
    const ended = await fides.link({ slug: 'over', endedDestination: 'https://www.example/next' })
    await fides.change(ended as never, { standing: 'ended' })
    await fides.link({ slug: 'soon', startsAt: new Date(Date.now() + 3_600_000).toISOString() })
    await fides.link({ slug: 'waiting', domain: 'coming.example' })
    await until(
      'all at the gateway',
      async () =>
        (await fides.visit('ansl.example/over')).status === 302 &&
        (await fides.visit('ansl.example/old')).status === 410,
    )
    expect(await fides.visit('ansl.example/resting')).toMatchObject({
      status: 503,
      headers: { 'retry-after': expect.stringMatching(/^3[56]\d\d$/) },
    })
    expect(await fides.visit('ansl.example/over')).toMatchObject({ status: 302, location: 'https://www.example/next' })
    expect((await fides.visit('ansl.example/soon')).status).toBe(404)
    expect((await fides.visit('coming.example/waiting')).status).toBe(421)
    expect((await fides.visit('unknown.example/x')).status).toBe(421)
  })

  it('carry the query as they say', async () => {
    await fides.link({ slug: 'q-drop', destination: 'https://q.example/?a=1' })
    await fides.link({ slug: 'q-keep', destination: 'https://q.example/?a=1', query: 'carry' })
    await fides.link({
      slug: 'q-visitor',
      destination: 'https://q.example/?a=1',
      query: 'carry',
      queryConflict: 'visitor',
    })
    await until('at the gateway', async () => (await fides.visit('ansl.example/q-visitor')).status === 302)
    const location = async (slug: string) => (await fides.visit(`ansl.example/${slug}?a=2&b=%7e`)).location
    expect(await location('q-drop')).toBe('https://q.example/?a=1')
    expect(await location('q-keep')).toBe('https://q.example/?a=1&b=%7e')
    expect(await location('q-visitor')).toBe('https://q.example/?a=2&b=%7e')
  })

  it('are refused with a sentence for each faulty field, and nothing is stored', async () => {
    const before = await fides.db.Link.count()
    const refused = await fides.call('editor', 'POST', '/links', {
      domain: 'ansl.example',
      slug: 'a b',
      destination: 'javascript:alert(1)',
      status: 200,
      colour: 'red',
    })
    expect(refused.status).toBe(422)
    expect(refused.headers.get('content-type')).toContain('application/problem+json')
    expect(refused.body.errors.map((fault: { pointer: string }) => fault.pointer).sort()).toEqual([
      '/colour',
      '/destination',
      '/slug',
      '/status',
    ])
    for (const more of [
      { slug: 'x1', domain: 'nobody.example' },
      { slug: '.well-known/x' },
      { slug: 'x2', startsAt: '2027-01-02T00:00:00Z', endsAt: '2027-01-01T00:00:00Z' },
      { slug: 'self', destination: 'https://ansl.example/SELF' },
      { slug: 'x3', destination: 'portansel:stop/1' },
      { slug: 'x4', robots: 'noindex\r\nX: y' },
    ]) {
      expect(
        (
          await fides.call('editor', 'POST', '/links', {
            domain: 'ansl.example',
            destination: 'https://www.example/',
            ...more,
          })
        ).status,
      ).toBe(422)
    }
    expect(await fides.db.Link.count()).toBe(before)
  })

  it('cannot be led in a circle, on whatever domains', async () => {
    const one = await fides.link({ slug: 'circle-1', destination: 'https://www.example/' })
    await fides.link({ slug: 'circle-2', domain: 'go.example', destination: 'https://ansl.example/circle-1' })
    const refused = await fides.change(one as never, { destination: 'http://go.example:80/circle-2?x=1' })
    expect(refused.status).toBe(422)
    expect(refused.body.detail).toContain('go.example/circle-2')
  })

  it('keep one slug to one link, whatever its spelling, and name who has it', async () => {
    await fides.link({ slug: 'Taken', title: 'The first' })
    for (const slug of ['taken', 'TAKEN', 'taken/']) {
      const second = await fides.call('editor', 'POST', '/links', {
        domain: 'ansl.example',
        slug,
        destination: 'https://www.example/',
      })
      expect(second.status).toBe(409)
      expect(second.body.link).toMatchObject({ address: 'ansl.example/Taken', title: 'The first' })
    }
    expect(
      (await fides.call('viewer', 'POST', '/slugs/check', { domain: 'ansl.example', slug: 'tAkEn' })).body,
    ).toMatchObject({ state: 'taken', link: { title: 'The first' } })
    expect(
      (await fides.call('viewer', 'POST', '/slugs/check', { domain: 'ansl.example', slug: 'free' })).body.state,
    ).toBe('free')
    expect(
      (await fides.call('viewer', 'POST', '/slugs/check', { domain: 'ansl.example', slug: 'a?b' })).body.state,
    ).toBe('refused')
  })

  it('get a random slug of easily read characters where none is given', async () => {
    const slugs = await Promise.all(Array.from({ length: 8 }, async () => (await fides.link()).slug))
    expect(new Set(slugs).size).toBe(8)
    for (const slug of slugs) expect(slug).toMatch(/^[a-hjkmnp-z2-9]{7}$/)
  })

  it('are listed by filters, in order, page by page without gap or double', async () => {
    for (let index = 0; index < 25; index++)
      await fides.link({
        slug: `page/${index}`,
        title: index % 2 ? 'Odd page' : 'Even page',
        tags: index < 5 ? ['few'] : [],
        status: index % 5 ? 302 : 301,
      })
    for (const sort of ['visits', 'changed', 'made', 'address']) {
      const seen: string[] = []
      let cursor: string | null = null
      do {
        const page: Answered<{ items: { slug: string }[]; next: string | null }> = await fides.call(
          'viewer',
          'GET',
          `/links?q=page/&limit=7&sort=${sort}${cursor ? `&cursor=${cursor}` : ''}`,
        )
        seen.push(...page.body.items.map((link) => link.slug))
        cursor = page.body.next
      } while (cursor)
      expect(seen).toHaveLength(25)
      expect(new Set(seen).size).toBe(25)
    }
    const count = async (query: string) =>
      (await fides.call('viewer', 'GET', `/links?limit=200&${query}`)).body.items.length
    expect(await count('q=page/&tag=few')).toBe(5)
    expect(await count('q=page/&redirect=permanent')).toBe(5)
    expect(await count('q=odd%20page')).toBe(12)
    expect(await count('q=%25')).toBe(0)
    expect(await count('destination=HTTPS://www.example:443/page&q=page/')).toBe(25)
    const counts = await fides.call('viewer', 'GET', '/links/counts?q=page/')
    expect(counts.body).toMatchObject({
      total: 25,
      redirects: { permanent: 5, temporary: 20 },
      standings: { live: 25 },
    })
    expect((await fides.call('viewer', 'GET', '/links?cursor=nonsense')).status).toBe(400)
    expect((await fides.call('viewer', 'GET', '/links?limit=5000')).status).toBe(422)
  })

  it('are traced exactly as the gateway answers', async () => {
    await fides.link({
      slug: 'Traced',
      destination: 'https://t.example/?a=1',
      query: 'carry',
      status: 308,
      robots: 'noindex',
    })
    await until('at the gateway', async () => (await fides.visit('ansl.example/traced')).status === 308)
    for (const address of [
      'ansl.example/TRACED/?b=1',
      'ansl.example/nite',
      'ansl.example/%zz',
      'unknown.example/',
      'coming.example/x',
      'ansl.example/old',
      'ansl.example/',
    ]) {
      const trace = await fides.call('viewer', 'POST', '/trace', { address: `https://${address}` })
      const visit = await fides.visit(address)
      expect(trace.body.status).toBe(visit.status)
      expect(trace.body.location ?? undefined).toBe(visit.location)
      for (const [name, value] of trace.body.headers) expect(visit.headers[name.toLowerCase()]).toBe(value)
    }
  })

  it('are traced at another moment', async () => {
    const endsAt = new Date(Date.now() + 3_600_000).toISOString()
    await fides.link({ slug: 'ends', endsAt })
    expect((await fides.call('viewer', 'POST', '/trace', { address: 'ansl.example/ends' })).body.status).toBe(302)
    expect(
      (await fides.call('viewer', 'POST', '/trace', { address: 'ansl.example/ends', as: { at: endsAt } })).body.status,
    ).toBe(410)
  })
})

describe('undo', () => {
  const newest = async (id: number) => (await fides.call('editor', 'GET', `/links/${id}/history`)).body.items[0]

  it('puts back what a change touched, and leaves later changes of other fields', async () => {
    const link = await fides.link({ slug: 'undo-1', title: 'Old title' })
    const second = (await fides.change(link as never, { title: 'New title', tags: ['a'] })).body
    const entry = await newest(link.id)
    await fides.change(second as never, { note: 'kept' })
    await fides.call('editor', 'POST', `/ledger/${entry.id}/undo`, {})
    expect((await fides.call('viewer', 'GET', `/links/${link.id}`)).body).toMatchObject({
      title: 'Old title',
      tags: [],
      note: 'kept',
    })
    expect((await fides.call('editor', 'POST', `/ledger/${entry.id}/undo`, {})).status).toBe(409)
  })

  it('says so where it would overwrite a later change, and does it when told to', async () => {
    const link = await fides.link({ slug: 'undo-2', title: 'One' })
    const second = (await fides.change(link as never, { title: 'Two' })).body
    const entry = await newest(link.id)
    await fides.change(second as never, { title: 'Three' })
    const refused = await fides.call('editor', 'POST', `/ledger/${entry.id}/undo`, {})
    expect(refused.status).toBe(409)
    expect(refused.body).toMatchObject({ fields: ['title'], later: [{ after: { title: 'Three' } }] })
    expect((await fides.call('editor', 'POST', `/ledger/${entry.id}/undo`, { overwrite: true })).status).toBe(201)
    expect((await fides.call('viewer', 'GET', `/links/${link.id}`)).body.title).toBe('One')
  })

  it('retires a link that was live, and takes back whole one that never was', async () => {
    const live = await fides.link({ slug: 'undo-3' })
    await fides.call('editor', 'POST', `/ledger/${(await newest(live.id)).id}/undo`, {})
    expect((await fides.call('viewer', 'GET', `/links/${live.id}`)).body.standing).toBe('retired')
    const scheduled = await fides.link({ slug: 'undo-4', startsAt: new Date(Date.now() + 9e6).toISOString() })
    await fides.call('editor', 'POST', `/ledger/${(await newest(scheduled.id)).id}/undo`, {})
    expect((await fides.call('viewer', 'GET', `/links/${scheduled.id}`)).status).toBe(404)
    expect((await fides.link({ slug: 'undo-4' })).slug).toBe('undo-4')
  })
})

describe('the database itself', () => {
  const insert = (more: Record<string, unknown> = {}) => {
    const row: Record<string, unknown> = {
      domain_id: 1,
      slug: 'raw',
      canonical: 'raw',
      destination: 'https://x.example/',
      destination_hash: '',
      status: 302,
      created_at: new Date(),
      updated_at: new Date(),
      ...more,
    }
    return fides.db.sequelize.query(
      `INSERT INTO link (${Object.keys(row).join(', ')}) VALUES (${Object.keys(row)
        .map((name) => ':' + name)
        .join(', ')})`,
      { replacements: row },
    )
  }
  it.each([
    ['a second link of one canonical slug', { slug: 'X', canonical: 'taken' }, 'link_address'],
    ['a status that is no redirect', { status: 200 }, 'link_status'],
    ['an end before the start', { starts_at: '2027-01-02', ends_at: '2027-01-01' }, 'link_dates'],
    ['a well-known slug', { canonical: '.well-known/x' }, 'link_well_known'],
    ['an empty slug', { slug: '' }, 'link_slug'],
    ['an over-long destination', { destination: 'https://x.example/' + 'x'.repeat(8000) }, 'link_destination'],
    ['a link of no domain', { domain_id: 99 }, 'link_domain'],
    ['an unknown standing', { standing: 'lost' }, 'standing'],
  ])('refuses %s', async (_name, columns, constraint) => {
    const error: Error & { parent?: Error } = await insert(columns).then(
      () => expect.fail('was stored'),
      (refusal) => refusal,
    )
    expect(error.parent?.message ?? error.message).toContain(constraint)
  })
  it('tells slugs apart that differ in a trailing space', async () => {
    await insert({ slug: 'pad', canonical: 'pad' })
    await insert({ slug: 'pad ', canonical: 'pad ' })
    expect(await fides.db.Link.destroy({ where: { canonical: ['pad', 'pad '] } })).toBe(2)
  })
})
