import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { linkListQuery } from '../../core/schemas'
import { listLinks } from '../../server/usecases/links/list-links'
import { addAlias } from '../../server/usecases/links/aliases'
import { administrator, TestRegister } from './register'

let register: TestRegister
beforeAll(async () => {
  register = await TestRegister.start()
  const fares = await register.link('fares', 'https://www.portansel.example/fares/2027', { title: 'Fares' })
  await register.link('fares-2027', 'https://www.portansel.example/fares/2027/all', { title: 'All fares' })
  await register.link('stop/1', 'https://live.portansel.example/departures?stop=1')
  await register.link('stop/10', 'https://live.portansel.example/departures?stop=10')
  await addAlias(register.db, administrator, fares.id, { slug: 'tickets', reason: 'for a test' })
})
afterAll(() => register.stop())

const slugs = async (query: object) =>
  (await listLinks(register.db, linkListQuery.parse({ sort: 'address', ...query }))).items.map(({ slug }) => slug)

describe('links found by what is pasted', () => {
  it.each([
    'https://ansl.example/fares/',
    'HTTPS://WWW.ansl.example/Fares',
    '"ansl.example/fares?~=bk"',
    'fares',
    '/fares',
  ])('belong to exactly one address: %s', async (address) => expect(await slugs({ address })).toEqual(['fares']))

  it('are found by a further slug, and by several lines', async () => {
    expect(await slugs({ address: 'https://ansl.example/tickets?utm_source=mail' })).toEqual(['fares'])
    expect(await slugs({ address: 'ansl.example/tickets\nansl.example/stop/1\nansl.example/none' })).toEqual([
      'fares',
      'stop/1',
    ])
    expect(await slugs({ q: 'https://ansl.example/tickets\nhttps://ansl.example/stop/10' })).toContain('stop/10')
  })

  it('are told apart by upper-case letters where their domain does', async () => {
    const read = { where: { host: 'ansl.example' } }
    await register.db.Domain.update({ capitalsMatter: true }, read)
    try {
      await register.link('Pier', 'https://pier.example/upper')
      await register.link('pier', 'https://pier.example/lower', { reason: 'another address here' })
      expect(await slugs({ address: 'https://ansl.example/Pier' })).toEqual(['Pier'])
      expect(await slugs({ address: 'HTTPS://ANSL.EXAMPLE/pier/' })).toEqual(['pier'])
    } finally {
      await register.db.Link.destroy({ where: { slug: ['Pier', 'pier'] } })
      await register.db.Domain.update({ capitalsMatter: false }, read)
    }
  })

  it('are none where the address belongs to none', async () => {
    for (const address of ['https://ansl.example/', 'elsewhere.example/fares', 'two words', '%zz', '/'])
      expect(await slugs({ address })).toEqual([])
  })

  it('are searched by a pasted address, with the query that says which page', async () => {
    expect(await slugs({ q: 'https://ansl.example/fares/' })).toEqual(['fares', 'fares-2027'])
    expect(await slugs({ q: 'https://ansl.example/fares?x=1' })).toEqual(['fares'])
    expect(await slugs({ q: 'https://live.portansel.example/departures?stop=10' })).toEqual(['stop/10'])
    expect(await slugs({ q: 'www.portansel.example/fares/2027/?utm_campaign=x' })).toEqual(['fares', 'fares-2027'])
  })
})
