import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { caseListQuery, type Case } from '../../core/schemas'
import { urgencyOf } from '../../core/docket'
import { keepMissCases } from '../../server/docket/misses/keep-miss-cases'
import { reconcileCases, type Finding } from '../../server/docket/keeper'
import { keepAllConflicts } from '../../server/docket/conflicts/keep-conflicts'
import { readSurvey } from '../../server/usecases/conflicts/read-survey'
import { applyRemedy } from '../../server/usecases/docket/apply-remedy'
import { listCases } from '../../server/usecases/docket/list-cases'
import { readCase } from '../../server/usecases/docket/read-case'
import { readLink } from '../../server/usecases/links/read-link'
import { administrator, NO_NAMES, refusal, TestRegister } from './register'

let register: TestRegister
beforeAll(async () => (register = await TestRegister.start()))
afterAll(() => register.stop())

const list = (more: object = {}) => listCases(register.db, caseListQuery.parse(more))
const apply = (about: Case, remedy: string, more: object = {}) =>
  applyRemedy(register.db, NO_NAMES, administrator, about.id, about.version, remedy, more)
const settled = async () => (await list({ state: 'settled' })).items
const remediesOf = async (about: Case) => (await readCase(register.db, NO_NAMES, about.id)).remedies!
/** What the worker does after each change. */
async function keep(): Promise<void> {
  const survey = await readSurvey(register.db)
  survey.scanAll()
  await keepAllConflicts(register.db, survey)
}
const reread = (id: number) => readLink(register.db, id)

describe('a remedy', () => {
  it('is what it was when it was read: its id names what it does, whatever else came to be offered', async () => {
    await register.link('fares', 'https://fares.example/')
    const fare = await register.link('fare', 'https://fare.example/', { reason: 'printed already' })
    const [about] = await settled()
    expect(about!.kind).toBe('one-slip')
    await register.changeLink(fare, { destination: 'https://fare.example/2', reason: undefined })
    await keep()
    const [open] = (await list()).items
    expect(open!.id).toBe(about!.id)
    const offered = await remediesOf(open!)
    const ids = offered.map(({ id }) => id)
    expect(new Set(ids).size).toBe(ids.length)
    expect((await refusal(apply(open!, 'no-such'))).status).toBe(404)
    // What the case is about changes: whoever read it before is told, with the case as it is now, and nothing is done.
    await register.changeLink(await reread(fare.id), { destination: 'https://fare.example/3', reason: undefined })
    await keep()
    const refused = await refusal(apply(open!, 'keep', { reason: 'known' }))
    expect(refused).toMatchObject({ status: 412, more: { current: { id: open!.id }, yours: { reason: 'known' } } })
    const [again] = (await list()).items
    expect(again!.version).toBeGreaterThan(open!.version)
    expect((await apply(again!, 'keep', { reason: 'known' })).case).toMatchObject({ state: 'settled', kept: true })
  })
})

describe('a finding', () => {
  it('leaves what somebody decided while it was on its way', async () => {
    await register.link('zone', 'https://zone.example/')
    await register.link('zones', 'https://zones.example/', { reason: 'printed already' })
    await register.db.DocketCase.update({ state: 'open', keptPrint: null }, { where: { kind: 'one-slip' } })
    const there = await register.db.DocketCase.findAll({ where: { kind: 'one-slip', state: 'open' } })
    const found = there.map((row) => ({ ...row.get(), key: row.caseKey, links: row.conflict!.links, impact: 77 }))
    // Read as open, and kept by somebody before what was found is written.
    await register.db.DocketCase.update(
      { state: 'settled', keptPrint: there[0]!.print, version: there[0]!.version + 1 },
      { where: { id: there[0]!.id } },
    )
    const version = there[0]!.version + 1
    const keep = () => reconcileCases(register.db, found as unknown as Finding[], { there, now: new Date() })
    await keep()
    const kept = await register.db.DocketCase.findByPk(there[0]!.id)
    expect(kept).toMatchObject({ state: 'settled', version })
    expect(Number(kept!.impact)).toBe(77)
    // What it is about changed as well: then the decision does not hold for it, and a remedy shown before fits no more.
    await register.db.DocketCase.update({ version: version + 1 }, { where: { id: there[0]!.id } })
    found[0]!.print = 'f'.repeat(64)
    await keep()
    const back = await register.db.DocketCase.findByPk(there[0]!.id)
    expect(back!.state).toBe('open')
    expect(back!.version).toBeGreaterThan(version + 1)
  })
})

describe('a case that is not found any more', () => {
  it('stays as somebody decided since it was read', async () => {
    const [row] = await register.db.DocketCase.findAll({ where: { kind: 'one-slip', state: 'open' }, limit: 1 })
    const until = new Date(Date.now() + 7 * 86_400_000)
    await register.db.DocketCase.update(
      { state: 'set-aside', setAsideUntil: until, reason: 'Next week', version: row!.version + 1 },
      { where: { id: row!.id } },
    )
    await reconcileCases(register.db, [], { there: [row!], now: new Date() })
    const decided = await register.db.DocketCase.findByPk(row!.id)
    expect(decided).toMatchObject({ state: 'set-aside', reason: 'Next week' })
    await reconcileCases(register.db, [], { there: [decided!], now: new Date() })
    expect((await register.db.DocketCase.findByPk(row!.id))!.state).toBe('settled')
  })
})

describe('the lane of what was not found', () => {
  it('keeps the case of what falls behind the 300 most requested, set aside or open', async () => {
    const { db } = register
    const now = new Date()
    const about = { domainId: 1, answered: false, noise: null, firstAt: now, lastAt: now, linkId: null, likely: 0 }
    await db.Miss.bulkCreate(
      Array.from({ length: 302 }, (_, index) => ({
        ...about,
        path: `wanted-${index}-${'xyz'[index % 3]}`,
        shape: `wanted-${index}`,
        visitors28: 5000 - index,
        ranking: { candidates: [] },
      })) as never[],
    )
    const states = async () => {
      const rows = await db.DocketCase.findAll({ where: { lane: 'misses' } })
      return new Map(rows.map(({ subject, state }) => [subject.split('/')[1]!, state]))
    }
    await keepMissCases(db, now)
    expect((await states()).size).toBe(300)
    const last = 'wanted-299-z'
    await db.DocketCase.update(
      { state: 'set-aside', setAsideUntil: new Date(now.getTime() + 86_400_000) },
      { where: { subject: `ansl.example/${last}` } },
    )
    // Two others are asked for more now: the one set aside falls to the 302nd place.
    await db.Miss.update({ visitors28: 9000 }, { where: { path: ['wanted-300-x', 'wanted-301-y'] } })
    await keepMissCases(db, now)
    expect((await states()).get(last)).toBe('set-aside')
    expect((await states()).get('wanted-300-x')).toBe('open')
    await db.Miss.update({ answered: true }, { where: { path: last } })
    await keepMissCases(db, now)
    expect((await states()).get(last)).toBe('settled')
    await db.Miss.destroy({ where: {} })
    await db.DocketCase.destroy({ where: { lane: 'misses' } })
  })
})

describe('the docket', () => {
  it('is in the order of urgency that the core reckons, over all lanes', async () => {
    await register.db.DocketCase.destroy({ where: {} })
    const now = Date.now()
    const facts = Array.from({ length: 60 }, (_, index) => ({
      impact: (index * 37) % 11,
      share: [1, 0.3, 0.02, 0.5][index % 4]!,
      harmAt: index % 3 ? null : new Date(now + (((index * 7) % 40) - 5) * 86_400_000),
      irrevocable: index % 5 === 0,
    }))
    await register.db.DocketCase.bulkCreate(
      facts.map((fact, index) => ({
        ...fact,
        lane: index % 2 ? ('domains' as const) : ('conflicts' as const),
        kind: index % 2 ? 'server-lame' : 'one-slip',
        caseKey: String(index).padStart(64, '0'),
        domainId: 1,
        linkId: null,
        subject: String(index),
        severity: 'doubtful' as const,
        headline: 'A case',
        sentence: 'A sentence.',
        evidence: [],
        openedAt: new Date(now),
        seenAt: new Date(now),
      })) as never,
    )
    const { items } = await list()
    expect(items).toHaveLength(60)
    const urgencies = items.map(({ subject }) => {
      const { harmAt, ...fact } = facts[Number(subject)]!
      return urgencyOf({ ...fact, harmAt: harmAt?.getTime() ?? null }, now)
    })
    for (let index = 1; index < urgencies.length; index++)
      expect(urgencies[index]!).toBeLessThanOrEqual(urgencies[index - 1]! * 1.0001 + 1e-9)
  })

  it('counts under the filters that narrow it', async () => {
    const whole = await list()
    const conflicts = await list({ lane: 'conflicts' })
    expect(conflicts.items).toHaveLength(whole.lanes.find(({ lane }) => lane === 'conflicts')!.cases)
    expect((await list({ domain: '1', kind: 'server-lame' })).items).toHaveLength(30)
    expect((await list({ domain: '2' })).items).toEqual([])
  })
})
