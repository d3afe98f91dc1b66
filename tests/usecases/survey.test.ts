import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { Survey } from '../../core/conflicts'
import { domainCreate, slugRulesPut } from '../../core/schemas'
import { seeded } from '../../server/database/seed/chance'
import { catchUp, readSurvey, renewSurvey } from '../../server/usecases/conflicts/read-survey'
import { currentSurvey, readySurvey, refreshFigures } from '../../server/usecases/conflicts/survey'
import { createDomain } from '../../server/usecases/domains/change-domain'
import { readLink } from '../../server/usecases/links/read-link'
import { changeSlugRules, readSlugRules } from '../../server/usecases/slug-rules/slug-rules'
import { administrator, TestRegister } from './register'

let register: TestRegister
beforeAll(async () => {
  register = await TestRegister.start()
})
afterAll(() => register.stop())

/** Rows and findings of a survey, to be compared. */
const whole = (survey: Survey) => ({
  domains: [...survey.state.domains.values()].sort((a, b) => a.id - b.id),
  links: [...survey.state.links.values()].sort((a, b) => a.id - b.id),
  rules: [...survey.state.rules.values()].sort((a, b) => a.id - b.id),
  addresses: [...survey.state.table.domains].map(([id, part]) => [
    id,
    [...part.links].map(([slug, entry]) => `${slug} ${entry.id}`).sort(),
  ]),
  conflicts: [...survey.conflicts].sort((a, b) => (a.key < b.key ? -1 : 1)),
})

async function fresh(): Promise<ReturnType<typeof whole>> {
  const survey = await readSurvey(register.db)
  survey.scanAll()
  return whole(survey)
}

async function changeReading(patch: object): Promise<void> {
  const { capacity: _capacity, usualBlocked: _usual, version, ...rules } = await readSlugRules(register.db, 1)
  const given = slugRulesPut.parse({ ...rules, ...patch, reason: 'for a test', otherwise: 'keep' })
  await changeSlugRules(register.db, administrator, 1, version, given)
}

describe('a survey made from the one before', () => {
  it('is what the database would give, after any changes of links, rules and how addresses are read', async () => {
    const random = seeded(2026)
    const pick = <Item>(items: readonly Item[]) => items[Math.floor(random() * items.length)]!
    const made: number[] = []
    for (const slug of ['Fares', 'Stop/1', 'stop/2', 'Zone-A/', 'zone-b', 'WORKS', 'late', 'Über'])
      made.push((await register.link(slug, `https://${made.length}.example/`)).id)
    await register.rule('/Stop/*', 'https://stops.example/{0}', { except: ['Stop/2'] })
    // Brought up to date only now and then, as by a process that had other things to do.
    let late = await readSurvey(register.db)
    late.scanAll()
    const readings = [
      { capitalsMatter: true },
      { trailingSlashMatters: true },
      { capitalsMatter: false },
      { trailingSlashMatters: false },
      { maxLength: 5, randomLength: 5 },
      { maxLength: 60, capitalsMatter: true },
      { capitalsMatter: false },
    ]
    for (const [step, reading] of readings.entries()) {
      await changeReading(reading)
      const link = await readLink(register.db, pick(made))
      await register.changeLink(link, { destination: `https://${pick(['0', '1', '2'])}.example/` })
      made.push((await register.link(`new-${step}`, 'https://ansl.example/fares')).id)
      if (step === 3) await createDomain(register.db, administrator, domainCreate.parse({ host: 'go.example' }))
      await readySurvey(register.db)
      expect(whole(await currentSurvey(register.db)), JSON.stringify(reading)).toEqual(await fresh())
      if (step % 3 !== 2) continue
      expect(await catchUp(register.db, late)).toBeUndefined()
      late = await renewSurvey(register.db, late)
      late.scanAll()
      expect(whole(late), `made late, ${JSON.stringify(reading)}`).toEqual(await fresh())
      expect(await catchUp(register.db, late)).toEqual({ added: [], removed: [], changed: [] })
    }
  })

  it('has the figures of visits of today once they are asked for, which no entry in the ledger tells', async () => {
    const survey = await currentSurvey(register.db)
    await register.db.sequelize.query('UPDATE link SET visits_28 = id * 7 WHERE id % 2 = 0')
    await register.db.sequelize.query('UPDATE rule SET visits_28 = 5')
    const { links, rules } = await fresh()
    expect(links.some(({ visits28 }) => visits28 > 0)).toBe(true)
    expect(whole(survey).links).not.toEqual(links)
    await refreshFigures(register.db)
    expect(whole(survey)).toMatchObject({ links, rules })
  })
})
