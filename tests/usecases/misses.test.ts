import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { ledgerQuery, missListQuery, settleRequest } from '../../core/schemas'
import { keepMissCases } from '../../server/docket/misses/keep-miss-cases'
import { applyRemedy } from '../../server/usecases/docket/apply-remedy'
import { readCase } from '../../server/usecases/docket/read-case'
import { listLedger } from '../../server/usecases/ledger/list-ledger'
import { undo } from '../../server/usecases/ledger/undo'
import { readLink } from '../../server/usecases/links/read-link'
import { listMisses } from '../../server/usecases/misses/list-misses'
import { missRegister } from '../../server/usecases/misses/miss-register'
import { lookAgain, rankDue } from '../../server/usecases/misses/rank-misses'
import { rankPath } from '../../server/usecases/misses/rank-path'
import { readMiss } from '../../server/usecases/misses/read-miss'
import { settleMisses } from '../../server/usecases/misses/settle-misses'
import { takeEvents } from '../../server/usecases/misses/take-events'
import { tellOwner } from '../../server/usecases/misses/tell-owner'
import { organisationToday } from '../../server/usecases/misses/organisation-day'
import type { Link } from '../../core/schemas'
import { administrator, editor, NO_NAMES, refusal, TestRegister } from './register'

let register: TestRegister
let fares: Link
beforeAll(async () => {
  register = await TestRegister.start()
  fares = await register.link('fares', 'https://www.example/fares')
  for (const stop of [4417, 4420, 4431])
    await register.link(`stop/${stop}`, `https://live.example/departures?stop=${stop}`)
})
afterAll(() => register.stop())

interface Asked {
  path: string
  visitor?: number
  kind?: 'miss' | 'robot' | 'followed' | 'mended'
  link?: number
  referrer?: string
  country?: string
  at?: Date
}

/** Puts aside what a gateway would, has it counted and ranked, and the lane kept. */
async function ask(...asked: Asked[]): Promise<void> {
  const { db } = register
  if (asked.length > 0)
    await db.sequelize.query(
      'INSERT INTO miss_event (kind, at, domain_id, path, link_id, visitor, country, referrer) VALUES ?',
      {
        replacements: [
          asked.map((one) => [
            one.kind ?? 'miss',
            one.at ?? new Date(),
            1,
            one.path,
            one.link ?? null,
            one.visitor === undefined ? null : Buffer.alloc(16, one.visitor),
            one.country ?? null,
            one.referrer ?? null,
          ]),
        ],
      },
    )
  while ((await takeEvents(db, 'Europe/Lisbon')) > 0);
  const miss = await missRegister(db)
  await lookAgain(db, miss, true)
  while ((await rankDue(db, miss, await organisationToday(db))) > 0);
  await keepMissCases(db)
}
const list = (query: object = {}) => listMisses(register.db, missListQuery.parse(query))
const missOf = async (path: string) => (await register.db.Miss.findOne({ where: { path } }))!
const caseOf = async (subject: string) =>
  (await register.db.DocketCase.findOne({ where: { lane: 'misses', subject } }))!
const settle = (items: object[], more: object = {}) =>
  settleMisses(register.db, editor, settleRequest.parse({ items, ...more }))

describe('requested addresses that do not exist', () => {
  it('is counted: each request once, each visitor once a day, robots apart', async () => {
    await ask(
      { path: 'fraes', visitor: 1, country: 'PT', referrer: 'https://news.test/a' },
      { path: 'fraes', visitor: 1, country: 'PT', referrer: 'https://news.test/a' },
      { path: 'fraes', visitor: 2, referrer: 'https://news.test/a' },
      { path: 'fraes', kind: 'robot', visitor: 3 },
    )
    const { items, counts } = await list()
    expect(items).toMatchObject([
      { path: 'fraes', requests28: 3, visitors28: 2, trend: 'new', state: 'open', address: 'ansl.example/fraes' },
    ])
    expect(items[0]!.daily.at(-1)).toBe(2)
    expect(items[0]!.ranking!.candidates[0]).toMatchObject({ link: fares.id, address: 'ansl.example/fares' })
    expect(counts).toEqual({ open: 1, answered: 0, noise: 0 })
    await ask({ path: 'fraes', visitor: 2 })
    expect((await missOf('fraes')).visitors28).toBe(2)
    expect(await readMiss(register.db, items[0]!.id)).toMatchObject({
      countries: [{ country: 'PT', requests: 2 }],
      referrers: [
        {
          page: 'https://news.test/a',
          requests: 3,
          toldAt: null,
          letter: { subject: 'A wrong address on https://news.test/a' },
        },
      ],
    })
  })

  it('becomes a case that says what was meant, how sure, and what each remedy would have served', async () => {
    const found = await readCase(register.db, NO_NAMES, (await caseOf('ansl.example/fraes')).id)
    expect(found).toMatchObject({ kind: 'mistyped-address', headline: 'Probably meant: ansl.example/fares' })
    expect(found.sentence).toContain('two characters swapped')
    expect(found.remedies!.map(({ id }) => id)).toEqual([`alias-${fares.id}`, 'link', 'gone', 'noise', 'tell'])
    expect(found.remedies![0]!.verified).toBe('It would have served 2 visitors in the last 28 days.')
  })

  it('is left alone below what is worth a decision, and told as noise with the reason', async () => {
    await ask(
      { path: 'once', visitor: 4 },
      { path: 'wp-login.php', visitor: 5 },
      { path: 'robots-only', kind: 'robot', visitor: 6 },
    )
    expect(await caseOf('ansl.example/once')).toBeNull()
    const { items } = await list({ state: 'noise', sort: 'path' })
    expect(items.map(({ path, noise }) => [path, noise])).toEqual([
      ['robots-only', 'asked for by declared robots alone'],
      ['wp-login.php', 'a script of a kind no short address is'],
    ])
  })

  it('takes visitors who look for holes out of the figures again', async () => {
    const paths = 'alpha bravo charlie delta echo foxtrot golf hotel india'.split(' ')
    await ask({ path: 'alpha', visitor: 20 }, ...paths.slice(0, 4).map((path) => ({ path, visitor: 21 })))
    expect((await missOf('alpha')).visitors28).toBe(2)
    await ask(...paths.slice(4).map((path) => ({ path, visitor: 21 })))
    expect((await missOf('alpha')).visitors28).toBe(1)
    expect(await missOf('india')).toMatchObject({ visitors28: 0, noise: 'scatter' })
  })

  it('takes what visitors found next for evidence', async () => {
    await ask(
      ...[30, 31, 32].map((visitor) => ({ path: 'prices', visitor })),
      ...[30, 31, 32].map((visitor) => ({ path: 'prices', visitor, kind: 'followed' as const, link: fares.id })),
    )
    const detail = await readMiss(register.db, (await missOf('prices')).id)
    expect(detail.followed).toMatchObject([{ link: fares.id, visitors: 3 }])
  })

  it('shows whatever strangers typed as text', async () => {
    const nasty = '<b onload=x>\u202ey=cmd|calc'
    await ask(...[40, 41, 42].map((visitor) => ({ path: nasty, visitor, referrer: 'https://x.test/"><b>' })))
    const found = await caseOf('ansl.example/<b onload=x>\\u{202e}y=cmd|calc')
    expect(found.headline).toBe('Requested but not found')
    expect((await readCase(register.db, NO_NAMES, found.id)).remedies!.length).toBeGreaterThan(2)
    const { referrers } = await readMiss(register.db, (await missOf(nasty)).id)
    expect(referrers[0]!.letter.text).not.toContain('\u202e')
  })
})

describe('settling', () => {
  it('is previewed without a change, then gives the link another slug; the case tells what it served', async () => {
    const { id } = await missOf('fraes')
    const preview = await settle([{ miss: id, decision: 'alias' }], { preview: true })
    expect(preview).toMatchObject({
      visitors28: 2,
      items: [{ fault: null, sentence: 'ansl.example/fraes now leads where ansl.example/fares does.' }],
    })
    expect(await register.db.Link.findOne({ where: { slug: 'fraes' } })).toBeNull()

    await settle([{ miss: id, decision: 'alias' }], { reason: 'on the old poster' })
    const link = await readLink(register.db, fares.id)
    expect(link.aliases).toMatchObject([{ slug: 'fraes', visits28: 0, same: false }])
    const found = await caseOf('ansl.example/fraes')
    expect(found).toMatchObject({ state: 'settled', settledBy: 'editor' })
    await register.db.sequelize.query('INSERT INTO visit_day (link_id, day, visits) VALUES (?, ?, 7)', {
      replacements: [link.aliases![0]!.id, await organisationToday(register.db)],
    })
    await ask()
    expect((await list({ state: 'answered' })).items).toMatchObject([
      { path: 'fraes', answeredBy: { by: 'alias', served: 7 } },
    ])
    expect((await readCase(register.db, NO_NAMES, found.id)).evidence.at(-1)!.text).toContain('7 visitors served since')
  })

  it('comes back when the remedy is undone', async () => {
    await undo(register.db, NO_NAMES, administrator, (await register.entry('alias')).id, { overwrite: false })
    expect((await readLink(register.db, fares.id)).aliases).toEqual([])
    await ask({ path: 'fraes', visitor: 50 })
    expect(await missOf('fraes')).toMatchObject({ answered: false })
    expect((await caseOf('ansl.example/fraes')).state).toBe('open')
  })

  it('settles several or none', async () => {
    const [one, other] = [(await missOf('fraes')).id, (await missOf('prices')).id]
    const items = [
      { miss: one, decision: 'alias', link: fares.id },
      { miss: other, decision: 'back' },
    ]
    const preview = await settle(items, { preview: true })
    expect(preview.items.map(({ fault }) => fault)).toEqual([null, 'There is no earlier link to restore.'])
    expect(await refusal(settle(items))).toMatchObject({ status: 409, errors: [{ pointer: '/items/1' }] })
    expect(await missOf('fraes')).toMatchObject({ answered: false })
    const both = [items[0]!, { ...items[1]!, decision: 'link', destination: 'https://www.example/prices' }]
    const { entry } = await settle(both)
    expect((await missOf('prices')).answeredBy).toMatchObject({ by: 'link' })
    const label = 'ansl.example/fraes and 1 more'
    const history = async () => (await listLedger(register.db, editor, ledgerQuery.parse({}), fares.id)).items[0]!
    expect(await history()).toMatchObject({ id: entry, subject: { label }, undoRole: 'editor' })

    // All of it is undone as one, and the undoing as one again.
    const back = async (id: number) => undo(register.db, NO_NAMES, editor, id, { overwrite: false })
    const undone = await back(entry!)
    expect(undone).toMatchObject({ action: 'undo', subject: { label } })
    expect((await readLink(register.db, fares.id)).aliases).toEqual([])
    expect((await history()).id).toBe(undone.id)
    expect(await refusal(back(entry!))).toMatchObject({ status: 409 })
    await back(undone.id)
    expect((await readLink(register.db, fares.id)).aliases).toMatchObject([{ slug: 'fraes' }])
  })

  it('marks as gone, which can be undone while nobody made anything of it', async () => {
    await ask(...[60, 61, 62].map((visitor) => ({ path: 'museum-day', visitor })))
    const { id } = await missOf('museum-day')
    await settle([{ miss: id, decision: 'gone' }])
    expect(await register.db.Link.findOne({ where: { slug: 'museum-day' } })).toMatchObject({ standing: 'retired' })
    await ask({
      path: 'museum-day',
      visitor: 63,
      link: (await register.db.Link.findOne({ where: { slug: 'museum-day' } }))!.id,
    })
    expect(await missOf('museum-day')).toMatchObject({ answered: true })
    await undo(register.db, NO_NAMES, administrator, (await register.entry('mark-gone')).id, { overwrite: false })
    expect(await register.db.Link.findOne({ where: { slug: 'museum-day' } })).toBeNull()
  })

  it('takes a shape for noise, those to come too, and takes that back', async () => {
    await ask(...[70, 71, 72].map((visitor) => ({ path: `promo-${visitor}x`, visitor })))
    const { id } = await missOf('promo-70x')
    await settle([{ miss: id, decision: 'noise-shape' }])
    await ask({ path: 'promo-99x', visitor: 73 })
    expect(await missOf('promo-99x')).toMatchObject({ noise: 'shape' })
    await undo(register.db, NO_NAMES, administrator, (await register.entry('noise')).id, { overwrite: false })
    await ask()
    expect([(await missOf('promo-70x')).noise, (await missOf('promo-99x')).noise]).toEqual([null, null])
  })

  it('brings a retired link back', async () => {
    const link = await register.link('old-map', 'https://www.example/map')
    await register.changeLink(link, { standing: 'retired' })
    await ask(...[80, 81, 82, 83, 84].map((visitor) => ({ path: 'old-map', visitor, link: link.id })))
    const found = await caseOf('ansl.example/old-map')
    expect(found.kind).toBe('gone-asked-for')
    await applyRemedy(register.db, NO_NAMES, administrator, found.id, found.version, 'back', { reason: '' })
    expect((await readLink(register.db, link.id)).standing).toBe('live')
    expect((await caseOf('ansl.example/old-map')).state).toBe('settled')
  })

  it('serves a family by one rule that is proved to clash with nothing', async () => {
    await ask(
      ...[4417, 4420, 4431].flatMap((stop, at) =>
        [90 + at, 95 + at].map((visitor) => ({ path: `stops/${stop}`, visitor })),
      ),
    )
    const found = await caseOf('ansl.example/stops/#')
    const { remedies } = await readCase(register.db, NO_NAMES, found.id)
    expect(remedies![0]).toMatchObject({ id: 'rule', destination: 'https://live.example/departures?stop={number}' })
    expect(remedies![0]!.verified).toContain('it clashes with nothing')
    await applyRemedy(register.db, NO_NAMES, administrator, found.id, found.version, 'rule', { reason: '' })
    await ask()
    expect(await missOf('stops/4420')).toMatchObject({ answered: true, answeredBy: { by: 'rule' } })
  })

  it('offers the switch of forgiveness that would mend it, and switches it on', async () => {
    await ask(...[100, 101, 102].map((visitor) => ({ path: 'fares%22.', visitor })))
    const found = await caseOf('ansl.example/fares%22.')
    const { remedies } = await readCase(register.db, NO_NAMES, found.id)
    expect(remedies!.map(({ id }) => id)).toContain('forgive-punctuation')
    await applyRemedy(register.db, NO_NAMES, administrator, found.id, found.version, 'forgive-punctuation', {
      reason: '',
    })
    expect((await register.db.Domain.findByPk(1))!.mendPunctuation).toBe(true)
    await ask({ path: 'fares%22.', visitor: 103, kind: 'mended', link: fares.id })
    expect((await list({ state: 'answered', q: 'fares%22' })).items).toMatchObject([
      { answeredBy: { by: 'mended', served: 1 } },
    ])
  })

  it('notes that a page’s owner was told, once there is such a page', async () => {
    const { id } = await missOf('fraes')
    await tellOwner(register.db, editor, id, 'https://news.test/a')
    expect((await readMiss(register.db, id)).referrers[0]).toMatchObject({ toldBy: 'editor' })
    expect(await refusal(tellOwner(register.db, editor, id, 'https://nobody.test/'))).toMatchObject({ status: 404 })
  })
})

describe('asking what a path means', () => {
  it('needs nobody to have asked for it', async () => {
    const { candidates, none } = await rankPath(register.db, { domain: 'ansl.example', path: '/Faers).' })
    expect(candidates[0]).toMatchObject({ link: fares.id, address: 'ansl.example/fares' })
    expect(candidates[0]!.probability).toBeGreaterThan(none)
  })
  it('refuses what no request could ask for', async () =>
    expect(await refusal(rankPath(register.db, { domain: 'ansl.example', path: '/' }))).toMatchObject({ status: 422 }))
})
