import Papa from 'papaparse'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { compareQuery, ledgerQuery, pastQuery, restoreRequest, type Link } from '../../core/schemas'
import { changeDomain } from '../../server/usecases/domains/change-domain'
import { compareMoments } from '../../server/usecases/ledger/compare'
import { exportLedger } from '../../server/usecases/ledger/export-ledger'
import { listLedger } from '../../server/usecases/ledger/list-ledger'
import { lookUpPast } from '../../server/usecases/ledger/look-up-past'
import { restoreDomain, restoreLink } from '../../server/usecases/ledger/restore'
import { readLink } from '../../server/usecases/links/read-link'
import { Partner } from './partner'
import { administrator, as, refusal, TestRegister } from './register'

let register: TestRegister
beforeAll(async () => (register = await TestRegister.start()))
afterAll(() => register.stop())

/** A moment between what was done before and what is done next. */
async function between(): Promise<string> {
  const pause = () => new Promise((resolve) => setTimeout(resolve, 4))
  await pause()
  const at = new Date().toISOString()
  await pause()
  return at
}
const compare = (from: string, to: string, more: object = {}) =>
  compareMoments(register.db, compareQuery.parse({ from, to, ...more }))
const bring = (link: Link, at: string) =>
  restoreLink(register.db, administrator, link.id, link.version, restoreRequest.parse({ at }))

describe('two moments', () => {
  it('are compared field by field, whoever changed things and however often', async () => {
    const link = await register.link('fares', 'https://one.example/', { title: 'Fares' })
    const gone = await register.link('gone', 'https://gone.example/')
    const first = await between()
    let now = await register.changeLink(link, { destination: 'https://two.example/', title: 'Other' })
    now = await register.changeLink(now, { destination: 'https://three.example/', title: 'Fares' })
    const second = await between()
    await register.changeLink(now, { destination: 'https://four.example/' })
    await register.link('later', 'https://later.example/')
    const third = await between()
    expect(await compare(first, second)).toMatchObject({
      total: 1,
      items: [
        {
          kind: 'link',
          label: 'ansl.example/fares',
          before: { destination: 'https://one.example/' },
          after: { destination: 'https://three.example/' },
        },
      ],
    })
    expect((await compare(first, second)).items[0]!.after).not.toHaveProperty('title')
    expect((await compare(first, third)).items.map(({ label, before }) => [label, before === null])).toEqual([
      ['ansl.example/fares', false],
      ['ansl.example/later', true],
    ])
    expect((await compare(first, third, { link: gone.id })).total).toBe(0)
    expect((await compare(second, second)).total).toBe(0)
  })

  it('know of changes to many links, rules and domains', async () => {
    const partner = await Partner.make(register)
    const rule = await register.rule('/r/:id', 'https://r.example/{id}')
    const domain = (await register.db.Domain.findByPk(1))!
    const first = await between()
    await partner.apply(await partner.proposeMove())
    await register.changeRule(rule, { destination: 'https://s.example/{id}' })
    const changed = await changeDomain(register.db, administrator, 1, domain.version, {
      notFoundDestination: 'https://lost.example/',
    })
    const { items } = await compare(first, await between())
    expect(items.map(({ kind, label }) => `${kind} ${label}`)).toEqual([
      'domain ansl.example',
      ...['a', 'b', 'c'].map((name) => `link ansl.example/${name}${partner.number}`),
      'rule ansl.example /r/:id',
    ])
    expect(items[1]!.after).toEqual({ destination: `https://${partner.newHost}/a?x=1#f` })
    const back = await restoreDomain(
      register.db,
      administrator,
      1,
      changed.version,
      restoreRequest.parse({ at: first }),
    )
    expect(back.notFoundDestination).toBeNull()
  })

  it('know that a domain was there before its key was set, its zone read and its key taken away', async () => {
    await register.link('before-keys', 'https://before.example/')
    const first = await between()
    const told = {
      memberId: null,
      actor: 'x',
      subjectKind: 'domain',
      subjectId: 1,
      subjectLabel: 'ansl.example',
      reason: '',
    }
    const revision = Number((await register.db.Organisation.findByPk(1))!.revision)
    for (const [index, entry] of [
      { action: 'set-key', beforeState: null, afterState: { server: '192.0.2.53' } },
      { action: 'read-zone', beforeState: null, afterState: { origin: 'ansl.example' } },
      { action: 'remove-key', beforeState: { server: '192.0.2.53' }, afterState: null },
    ].entries())
      await register.db.LedgerEntry.create({
        ...told,
        ...entry,
        at: new Date(),
        revision: revision + 1 + index,
        undoesId: null,
        undoneById: null,
      } as never)
    await register.db.Organisation.update({ revision: revision + 3 }, { where: { id: 1 } })
    expect((await compare(first, await between())).total).toBe(0)
    const past = pastQuery.parse({ address: 'ansl.example/before-keys', at: first })
    expect(await lookUpPast(register.db, past)).toMatchObject({ status: 302, location: 'https://before.example/' })
  })

  it.each([
    ['in the wrong order', '2026-02-01T00:00:00Z', '2026-01-01T00:00:00Z', 'from'],
    ['one of them ahead', '2026-01-01T00:00:00Z', '2999-01-01T00:00:00Z', 'to'],
  ])('are refused %s', async (_name, from, to, field) => {
    expect((await refusal(compare(from, to))).errors[0]!.pointer).toBe(`/${field}`)
  })
})

describe('a link', () => {
  it('is brought back to a moment as a whole, by one change that can be undone', async () => {
    const link = await register.link('whole', 'https://one.example/', { title: 'One', tags: ['a'], note: 'n' })
    const at = await between()
    let now = await register.changeLink(link, { destination: 'https://two.example/', status: 301, tags: ['b'] })
    now = await register.changeLink(now, { title: 'Two', slug: 'renamed', standing: 'paused' })
    const back = await bring(now, at)
    expect(back).toMatchObject({
      destination: 'https://one.example/',
      status: 302,
      title: 'One',
      tags: ['a'],
      slug: 'whole',
      standing: 'live',
      note: 'n',
    })
    expect((await register.db.LedgerEntry.findOne({ order: [['id', 'DESC']] }))!.reason).toMatch(/^As it stood at /)
    expect(await refusal(bring(back, at))).toMatchObject({ status: 409, title: 'Nothing to bring back' })
  })
  it('is not brought back to before it was, over another’s change, or to what would be refused today', async () => {
    const before = await between()
    const link = await register.link('young', 'https://young.example/')
    expect(await refusal(bring(link, before))).toMatchObject({ status: 409, title: 'Not there at that moment' })
    const at = await between()
    const now = await register.changeLink(link, { destination: 'https://older.example/' })
    expect(await refusal(bring(link, at))).toMatchObject({ status: 412 })
    await register.db.sequelize.query(
      `UPDATE ledger_entry SET before_state = JSON_SET(before_state, '$.destination', 'javascript:alert(1)')
       WHERE subject_id = ? AND action = 'change-destination'`,
      { replacements: [link.id] },
    )
    expect(await refusal(bring(now, at))).toMatchObject({ status: 422 })
    expect((await readLink(register.db, link.id)).destination).toBe('https://older.example/')
  })
})

describe('the ledger', () => {
  const found = async (q: string) =>
    (await listLedger(register.db, administrator, ledgerQuery.parse({ q }))).items.map(
      ({ subject, action }) => `${action} ${subject.label}`,
    )
  it('is searched by where things led, or lead no more, also of many links', async () => {
    const link = await register.link('sought', 'https://sought.example/page')
    await register.changeLink(link, { destination: 'https://elsewhere.example/' })
    expect(await found('sought.example/page')).toEqual([
      'change-destination ansl.example/sought',
      'create ansl.example/sought',
    ])
    const partner = await Partner.make(register)
    await partner.apply(await partner.proposeMove())
    expect((await found(partner.newHost))[0]).toMatch(/^change-destination 3 links/)
    expect(await found("x.%_'\\")).toEqual([])
  })
  it('goes along as CSV, quoted, without formulas, and only what the reader may see', async () => {
    const nasty = '=HYPERLINK("http://x","y"), and "more"'
    await register.link('csv', 'https://csv.example/', { reason: nasty })
    await register.db.LedgerEntry.create({
      revision: 1_000_000,
      at: new Date(),
      memberId: null,
      actor: 'x',
      action: 'change',
      subjectKind: 'member',
      subjectId: 1,
      subjectLabel: 'hidden@portansel.example',
      reason: '',
      beforeState: null,
      afterState: { role: 'viewer' },
      undoesId: null,
      undoneById: null,
    } as never)
    const text = await exportLedger(register.db, administrator, {})
    const { data, errors } = Papa.parse<Record<string, string>>(text, { header: true, skipEmptyLines: true })
    expect(errors).toEqual([])
    expect(data).toHaveLength(await register.db.LedgerEntry.count())
    expect(data.find(({ subject }) => subject === 'ansl.example/csv')).toMatchObject({ reason: `'${nasty}` })
    expect(text).toContain('hidden@')
    expect(await exportLedger(register.db, as('viewer'), {})).not.toContain('hidden@')
  })
  it('tells what came of a change in visits, by whole days', async () => {
    const link = await register.link('counted', 'https://c.example/')
    await register.changeLink(link, { destination: 'https://d.example/' })
    const entry = await register.entry('change-destination')
    const ago = (days: number) => new Date(Date.now() - days * 86_400_000)
    await entry.update({ at: ago(4) })
    const day = (days: number) => ago(days).toLocaleDateString('en-CA', { timeZone: 'Europe/Lisbon' })
    for (const [days, visits] of [
      [12, 700],
      [8, 40],
      [5, 30],
      [4, 999],
      [3, 10],
      [1, 20],
      [0, 999],
    ] as const)
      await register.db.sequelize.query('INSERT INTO visit_day VALUES (?, ?, ?)', {
        replacements: [link.id, day(days), visits],
      })
    const { items } = await listLedger(register.db, administrator, ledgerQuery.parse({}), link.id)
    // (10 + 20) over three days; (40 + 30) over seven.
    expect(items[0]!.since).toBe('10 visits a day in the 3 days after, 10 in the 7 days before.')
    expect(items.at(-1)!.since).toBeUndefined()
  })
})
