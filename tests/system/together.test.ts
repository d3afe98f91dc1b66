import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { TestFides } from './fides'

let fides: TestFides
beforeAll(async () => (fides = await TestFides.start()))
afterAll(() => fides.stop())

describe('two people at once', () => {
  it('the later save of a link is refused, with both versions told', async () => {
    const link = await fides.link({ slug: 'both', title: 'Opened' })
    const [one, two] = await Promise.all([
      fides.change(link as never, { title: 'From the editor' }),
      fides.change(link as never, { title: 'From the administrator' }, 'administrator'),
    ])
    expect([one.status, two.status].sort()).toEqual([200, 412])
    const [saved, refused] = one.status === 200 ? [one, two] : [two, one]
    expect(refused.body).toMatchObject({
      status: 412,
      current: { title: saved.body.title, version: 2 },
      yours: { title: expect.any(String) },
    })
    expect((await fides.call('viewer', 'GET', `/links/${link.id}`)).body).toMatchObject({
      title: saved.body.title,
      version: 2,
    })
  })

  it('a save without the version read is refused', async () => {
    const link = await fides.link({ slug: 'blind' })
    expect((await fides.call('editor', 'PATCH', `/links/${link.id}`, { title: 'x' })).status).toBe(428)
    expect(
      (await fides.call('editor', 'PATCH', `/links/${link.id}`, { title: 'x' }, { 'if-match': 'three' })).status,
    ).toBe(400)
  })

  it('tells the entity tag that a save must name', async () => {
    const link = await fides.link({ slug: 'tagged' })
    const read = await fides.call('viewer', 'GET', `/links/${link.id}`)
    const saved = await fides.call(
      'editor',
      'PATCH',
      `/links/${link.id}`,
      { title: 'x' },
      { 'if-match': read.headers.get('etag')! },
    )
    expect(saved.status).toBe(200)
    expect(saved.headers.get('etag')).toBe('"2"')
  })

  it('one slug made twice at the same moment: one is made, the other refused with 409 naming it', async () => {
    for (let round = 0; round < 10; round++) {
      const body = { domain: 'ansl.example', slug: `race-${round}`, destination: `https://www.example/race-${round}` }
      const results = await Promise.all([
        fides.call('editor', 'POST', '/links', body),
        fides.call('administrator', 'POST', '/links', { ...body, slug: body.slug.toUpperCase() }),
      ])
      expect(results.map((result) => result.status).sort()).toEqual([201, 409])
      expect(results.find((result) => result.status === 409)!.body.detail.toLowerCase()).toContain(`race-${round}`)
      expect(await fides.db.Link.count({ where: { canonical: `race-${round}` } })).toBe(1)
    }
  })

  it('many changes at once leave a ledger without gap or double', async () => {
    const before = (await fides.db.Organisation.findByPk(1))!.revision
    await Promise.all(Array.from({ length: 40 }, (_, index) => fides.link({ slug: `many-${index}` })))
    const after = (await fides.db.Organisation.findByPk(1))!.revision
    expect(after - before).toBe(40)
    const entries = await fides.db.LedgerEntry.findAll({ order: ['id'] })
    expect(entries.map((entry) => Number(entry.revision))).toEqual(entries.map((_, index) => index + 1))
  })
})
