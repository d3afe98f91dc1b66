import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { QueryTypes } from 'sequelize'
import { linkListQuery } from '../../core/schemas'
import { countLinks } from '../../server/usecases/links/count-links'
import { listLinks } from '../../server/usecases/links/list-links'
import { keepSearchIndex } from '../../server/usecases/links/search/keep-index'
import { TestRegister } from './register'

const WORDS = ['fares', 'harbour', 'timetable', 'night', 'ferry', 'depot', 'Straße', 'крај', 'öffnung', 'x']
let register: TestRegister
beforeAll(async () => {
  register = await TestRegister.start()
  for (let index = 0; index < 120; index++) {
    const word = (step: number) => WORDS[(index * step + step) % WORDS.length]!
    await register.link(`p${index}/${index % 7}`, `https://www.portansel.example/${index % 13}/${index}`, {
      title: `${word(1)} ${word(3)} ${index * 37}`,
    })
  }
})
afterAll(() => register.stop())

const list = (query: object) => listLinks(register.db, linkListQuery.parse({ sort: 'address', limit: 200, ...query }))
const slugs = async (query: object) => (await list(query)).items.map(({ slug }) => slug)
const behind = async () =>
  (await register.db.sequelize.query('SELECT id FROM link WHERE index_behind = 1', { type: QueryTypes.SELECT })).length
/** What contains a text, by reading all of it. */
async function byReading(text: string): Promise<string[]> {
  const rows = await register.db.sequelize.query<{ slug: string }>(
    'SELECT slug FROM link WHERE INSTR(search_text, CAST(:text AS BINARY)) > 0 ORDER BY canonical, id',
    { replacements: { text }, type: QueryTypes.SELECT },
  )
  return rows.map(({ slug }) => slug)
}
const TEXTS = [
  'p1',
  'p11',
  '1/1',
  'harbour',
  'straße',
  'крај',
  'ffnun',
  'portansel.example/12/',
  'night 1',
  'depot',
  'fe',
  'x',
  'nothing',
  '37',
  '4403',
]

describe('the search index', () => {
  it('finds what reading all finds: before it is made, half made, made', async () => {
    const check = async () => {
      for (const text of TEXTS) {
        const [first, ...more] = text.split(' ')
        const expected = more.reduce(
          async (so, word) =>
            (await so).filter(
              (
                (there) => (slug) =>
                  there.includes(slug)
              )(await byReading(word)),
            ),
          byReading(first!),
        )
        expect([text, await slugs({ q: text })]).toEqual([text, await expected])
        expect((await countLinks(register.db, { q: text })).total).toBe((await expected).length)
      }
    }
    expect(await behind()).toBe(120)
    await check()
    await register.db.sequelize.query('UPDATE link SET indexed_crc = NULL WHERE id > 60')
    expect(await keepSearchIndex(register.db)).toBe(120)
    expect(await behind()).toBe(0)
    await register.db.sequelize.query('UPDATE link SET indexed_crc = NULL WHERE MOD(id, 2) = 0')
    await check()
    await keepSearchIndex(register.db)
    await check()
    expect(await keepSearchIndex(register.db)).toBe(0)
  })

  it('finds a change at once, and no longer what was there before', async () => {
    const link = (await list({ q: 'p5/5' })).items[0]!
    await register.changeLink(link, { title: 'Zeppelin landing' })
    expect(await behind()).toBe(1)
    expect(await slugs({ q: 'zeppelin' })).toEqual(['p5/5'])
    await keepSearchIndex(register.db)
    expect(await slugs({ q: 'zeppelin' })).toEqual(['p5/5'])
    expect(await slugs({ q: link.title })).not.toContain('p5/5')
  })

  it('leaves what is being changed at that moment for the next time, and waits for nobody', async () => {
    await register.db.sequelize.query('UPDATE link SET indexed_crc = NULL')
    const held = await register.db.sequelize.transaction()
    await register.db.Link.findByPk(7, { transaction: held, lock: held.LOCK.UPDATE })
    await keepSearchIndex(register.db)
    await held.rollback()
    expect(await behind()).toBe(1)
    expect(await keepSearchIndex(register.db)).toBe(1)
  })

  it('does not take a text for indexed that changed while it was', async () => {
    const at = register.db.sequelize
    await at.query("UPDATE link SET search_text = 'ansl.example/first' WHERE id = 9")
    const keeping = keepSearchIndex(register.db)
    await at.query("UPDATE link SET search_text = 'ansl.example/second' WHERE id = 9")
    await keeping
    expect(await slugs({ q: 'second' })).toHaveLength(1)
    await keepSearchIndex(register.db)
    expect(await slugs({ q: 'second' })).toHaveLength(1)
    expect(await slugs({ q: 'example/first' })).toHaveLength(0)
  })

  it('loses nothing where two keep it at once', async () => {
    await register.db.sequelize.query('DELETE FROM search_gram')
    await register.db.sequelize.query('UPDATE link SET indexed_crc = NULL')
    await Promise.allSettled([keepSearchIndex(register.db), keepSearchIndex(register.db)])
    while ((await keepSearchIndex(register.db)) > 0);
    for (const text of TEXTS.filter((text) => !text.includes(' ')))
      expect([text, await slugs({ q: text })]).toEqual([text, await byReading(text)])
  })

  it('gives what was probably meant after what was found', async () => {
    const { items, similar } = await list({ q: 'zepelin landing' })
    expect(items).toEqual([])
    expect(similar?.map(({ slug }) => slug)).toEqual(['p5/5'])
    expect((await list({ q: 'zeppelin' })).similar).toBeUndefined()
    expect((await list({ q: 'harbuor' })).similar!.length).toBeGreaterThan(5)
    expect((await list({ q: 'zepelin', standing: 'paused' })).similar).toBeUndefined()
    expect((await list({ q: 'p5/6' })).similar).toBeUndefined()
  })

  it('gives pages in order, each link once, also of a search that means very many', async () => {
    const seen: string[] = []
    for (let cursor: string | undefined; ;) {
      const { items, next } = await list({ q: 'portansel', limit: 50, cursor })
      seen.push(...items.map(({ slug }) => slug))
      if (next === null) break
      cursor = next
    }
    expect(seen).toEqual(await byReading('portansel'))
  })
})
