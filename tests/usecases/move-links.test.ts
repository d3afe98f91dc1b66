import { QueryTypes } from 'sequelize'
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { lookUpPast } from '../../server/usecases/ledger/look-up-past'
import { listLedger } from '../../server/usecases/ledger/list-ledger'
import { undo } from '../../server/usecases/ledger/undo'
import { readLink } from '../../server/usecases/links/read-link'
import { Partner } from './partner'
import { administrator, NO_NAMES, refusal, TestRegister } from './register'

let register: TestRegister
let partner: Partner
beforeAll(async () => {
  register = await TestRegister.start()
  const createdAt = new Date()
  await register.db.Domain.create({
    host: 'rider.example',
    standing: 'open',
    capitalsMatter: false,
    slugRules: { blocked: ['tram'] },
    createdAt,
    updatedAt: createdAt,
  })
})
afterAll(() => register.stop())
beforeEach(async () => (partner = await Partner.make(register)))

const moveTo = (links: number[], domain = 'rider.example', more: object = {}) =>
  partner.propose({ select: { links }, change: { domain, ...more } })
const back = (entry: number, overwrite = false) => undo(register.db, NO_NAMES, administrator, entry, { overwrite })
/** Which slugs of which domains there are, and where those that forward lead. */
const addresses = async () =>
  (await register.db.Link.findAll({ order: [['id', 'ASC']] })).map(({ id, domainId, slug, forwardsTo }) => {
    const address = `${domainId === 1 ? 'ansl' : 'rider'}/${slug}`
    // What forwards may be made anew, with another number.
    return forwardsTo === null ? `${address} ${id}` : `${address} → ${forwardsTo}`
  })

describe('links that move to another domain', () => {
  it('answer there, what they were called goes on leading to them, and all of it is undone as one', async () => {
    const before = await addresses()
    const proposal = await moveTo(partner.ids, 'Rider.example', { tags: { add: ['moved'] } })
    expect(proposal).toMatchObject({ words: 'moves to Rider.example, adds the tag moved', counts: { change: 3 } })
    expect((await partner.rows(proposal))[0]).toMatchObject({
      before: { domain: 'ansl.example' },
      after: { domain: 'rider.example' },
    })
    const asked = new Date()
    await new Promise((resolve) => setTimeout(resolve, 5))
    const applied = await partner.apply(proposal)
    const now = await partner.link(0)
    expect(now).toMatchObject({
      domain: 'rider.example',
      address: `rider.example/a${partner.number}`,
      tags: ['moved', 'partner'],
    })
    expect(now.aliases?.map(({ address }) => address)).toEqual([`ansl.example/a${partner.number}`])
    const [row] = await register.db.Link.findAll({ where: { id: now.id } })
    expect(row!.searchText.toString()).toContain(`rider.example/a${partner.number}\nansl.example/a${partner.number}`)

    const past = (host: string, at: Date) =>
      lookUpPast(register.db, { address: `${host}/a${partner.number}`, at: at.toISOString(), acceptLanguage: '' })
    const { destination } = partner.links[0]!
    expect(await past('ansl.example', asked)).toMatchObject({ location: destination, link: now.id })
    expect(await past('rider.example', asked)).toMatchObject({ status: 404 })
    expect(await past('rider.example', new Date())).toMatchObject({ location: destination, link: now.id })
    expect(await past('ansl.example', new Date())).toMatchObject({ location: destination })
    const { items } = await listLedger(register.db, administrator, { limit: 1 } as never, now.id)
    expect(items[0]).toMatchObject({ before: { domain: 'ansl.example' }, after: { domain: 'rider.example' } })

    const moved = await addresses()
    const undone = await back(applied.entry!)
    expect(await addresses()).toEqual(before)
    expect((await partner.link(0)).aliases ?? []).toEqual([])
    // And an undoing of the undoing, which leaves slugs anew.
    const again = await back(undone.id)
    expect(new Set(await addresses())).toEqual(new Set(moved))
    await back(again.id)
    expect(await addresses()).toEqual(before)
  })

  it('take over a slug that led to them already, whose visits become theirs; undone, it is made again', async () => {
    const [link] = partner.links
    const createdAt = new Date()
    const alias = await register.db.Link.create({
      domainId: 2,
      slug: `A${partner.number}`,
      canonical: `a${partner.number}`,
      forwardsTo: link!.id,
      destination: link!.destination,
      destinationHash: 'x',
      status: 302,
      searchText: '',
      createdAt,
      updatedAt: createdAt,
    })
    await register.db.sequelize.query('INSERT INTO visit_day (link_id, day, visits) VALUES (?, "2026-11-01", 7)', {
      replacements: [alias.id],
    })
    const before = await addresses()
    const applied = await partner.apply(await moveTo([link!.id]))
    const [visits] = await register.db.sequelize.query('SELECT * FROM visit_day WHERE link_id = ?', {
      replacements: [link!.id],
      type: QueryTypes.SELECT,
    })
    expect(visits).toMatchObject({ visits: 7 })
    expect(await register.db.Link.findByPk(alias.id)).toBeNull()
    await back(applied.entry!)
    expect(new Set(await addresses())).toEqual(new Set(before))
  })

  it('clash with what has the address there, and with one another', async () => {
    await register.link(`b${partner.number}`, 'https://elsewhere.example/', {
      domain: 'rider.example',
      title: 'Night bus',
    })
    const rows = await partner.rows(await moveTo(partner.ids))
    expect(rows.map(({ kind }) => kind).sort()).toEqual(['change', 'change', 'clash'])
    expect(rows.find(({ kind }) => kind === 'clash')).toMatchObject({
      address: `ansl.example/b${partner.number}`,
      why: `“b${partner.number}” is taken on rider.example by “Night bus”; choose another slug.`,
    })
  })

  it('are refused where the rules there would not have them, and where nobody could reach them', async () => {
    const tram = await register.link(`tram`, 'https://elsewhere.example/tram')
    const [row] = await partner.rows(await moveTo([tram.id]))
    expect(row).toMatchObject({ kind: 'refused' })
    expect(row!.why).toContain('It breaks the slug rules of rider.example:')
    const unknown = await refusal(moveTo(partner.ids, 'nobody.example'))
    expect(unknown.errors[0]).toMatchObject({ pointer: '/change/domain' })
  })

  it('are refused where they would lead in a circle there', async () => {
    const link = await register.link(`ring${partner.number}`, `https://rider.example/ring${partner.number}`)
    const [row] = await partner.rows(await moveTo([link.id]))
    expect(row).toMatchObject({ kind: 'clash' })
    expect(row!.why).toContain('Redirect loop')
  })

  it('nothing is done where somebody took the address meanwhile, before and at the undoing', async () => {
    const proposal = await moveTo(partner.ids)
    const taken = await register.link(`c${partner.number}`, 'https://elsewhere.example/', { domain: 'rider.example' })
    expect((await refusal(partner.apply(proposal))).message).toContain('is taken on rider.example')
    expect((await partner.link(0)).domain).toBe('ansl.example')
    const applied = await partner.apply(await moveTo([partner.links[0]!.id]))
    const [left] = await register.db.Link.findAll({ where: { forwardsTo: partner.links[0]!.id } })
    await left!.update({ forwardsTo: taken.id })
    expect((await refusal(back(applied.entry!))).message).toContain('is taken on ansl.example')
    expect((await readLink(register.db, partner.links[0]!.id)).domain).toBe('rider.example')
  })
})
