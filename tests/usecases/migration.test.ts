import { QueryTypes } from 'sequelize'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { down, up } from '../../server/database/migrations/0004-one-place'
import * as nameServers from '../../server/database/migrations/0005-what-name-servers-do'
import * as targets from '../../server/database/migrations/0006-targets'
import { ensureTargets } from '../../server/usecases/targets/link-targets'
import { runChange } from '../../server/usecases/ledger/change'
import { changeLinks } from '../../server/usecases/links/change-links'
import { readRule } from '../../server/usecases/rules/rules'
import { keepAllConflicts } from '../../server/docket/conflicts/keep-conflicts'
import { readSurvey } from '../../server/usecases/conflicts/read-survey'
import { administrator, TestRegister } from './register'

let register: TestRegister
beforeAll(async () => (register = await TestRegister.start()))
afterAll(() => register.stop())

const ask = <Row extends object>(sql: string) => register.db.sequelize.query<Row>(sql, { type: QueryTypes.SELECT })

describe('the migration to one place for each thing', () => {
  it('takes what stood before over, and gives it back', async () => {
    const { db } = register
    const context = { context: db.sequelize.getQueryInterface() }
    const asking = await register.rule('/line/*', 'https://lines.example/{0}', {
      condition: [{ kind: 'query', mode: 'exactly', text: 'dir=in' }],
    })
    const plain = await register.rule('/all/*', 'https://all.example/{0}')
    await register.link('fares', 'https://fares.example/')
    await register.link('fare', 'https://fare.example/')
    const [decided] = await db.DocketCase.findAll()
    expect(decided).toMatchObject({ kind: 'one-slip', state: 'settled' })

    await down(context)
    expect(await ask(`SELECT id, query_mode AS mode, query_text AS text FROM rule ORDER BY id`)).toMatchObject([
      { mode: 'exactly', text: 'dir=in' },
      { mode: 'ignore', text: '' },
    ])
    // As it was keyed before: by the domain it was told under, too.
    await db.sequelize.query(`UPDATE docket_case SET case_key = REPEAT('0', 64)`)
    await up(context)
    expect((await readRule(db, asking.id)).condition).toEqual([{ kind: 'query', mode: 'exactly', text: 'dir=in' }])
    expect((await readRule(db, plain.id)).condition).toEqual([])

    const survey = await readSurvey(db)
    survey.scanAll()
    await keepAllConflicts(db, survey)
    // Known again under its new key: no second case beside it, and what was decided still holds.
    const after = await db.DocketCase.findAll()
    expect(after.map(({ id, state, caseKey }) => [id, state, caseKey])).toEqual([
      [decided!.id, 'settled', decided!.caseKey],
    ])
  })
})

describe('the migration to what name servers do', () => {
  it('keeps how long old answers are held, there and back', async () => {
    const { db } = register
    const context = { context: db.sequelize.getQueryInterface() }
    const [domain] = await db.Domain.findAll()
    const changedAt = new Date('2026-11-26T12:00:00Z')
    const heldUntil = new Date('2026-11-26T13:00:00Z')
    await db.DomainWatch.upsert({ domainId: domain!.id, dueAt: changedAt, changedAt, heldUntil })
    await nameServers.down(context)
    expect(await ask('SELECT old_ttl AS oldTtl FROM domain_watch')).toMatchObject([{ oldTtl: 3600 }])
    await nameServers.up(context)
    expect((await db.DomainWatch.findByPk(domain!.id))!.heldUntil).toEqual(heldUntil)
  })
})

describe('the migration to targets', () => {
  it('goes back with rows of every new sort, and comes again', async () => {
    const { db } = register
    const context = { context: db.sequelize.getQueryInterface() }
    const links = await Promise.all([1, 2].map((number) => register.link(`m${number}`, `https://m.example/${number}`)))
    await ensureTargets(db, null)
    await db.Organisation.update({ brokenAfter: 7, checkNetworks: ['10.0.0.0/8'] }, { where: { id: 1 } })
    const wishes = new Map(links.map(({ id }) => [id, { destination: 'https://m.example/new' }]))
    await runChange(
      db,
      administrator,
      (change) => changeLinks(db, change, wishes, { action: 'change-destination', reason: '', label: '2 links' }),
      { surveyed: true },
    )
    await targets.down(context)
    expect(await ask("SELECT COUNT(*) AS n FROM ledger_entry WHERE subject_label = '2 links'")).toMatchObject([
      { n: 0 },
    ])
    expect(await ask("SHOW TABLES LIKE 'target%'")).toEqual([])
    await targets.up(context)
    expect(await ensureTargets(db, null)).toBeGreaterThan(0)
    expect(await db.Organisation.findByPk(1)).toMatchObject({ brokenAfter: 3, checkNetworks: [] })
  })
})
