import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { Survey } from '../../core/conflicts'
import { domainCreate, proposalCreate, slugRulesPut } from '../../core/schemas'
import { seeded } from '../../server/database/seed/chance'
import { catchUp, readSurvey, renewSurvey, refreshStale } from '../../server/usecases/conflicts/read-survey'
import { currentSurvey, readySurvey, refreshFigures } from '../../server/usecases/conflicts/survey'
import { makeChange, makeProposal, readProposal } from '../../server/usecases/changes/proposals'
import { createDomain } from '../../server/usecases/domains/change-domain'
import { readLink } from '../../server/usecases/links/read-link'
import { changeSlugRules, readSlugRules } from '../../server/usecases/slug-rules/slug-rules'
import { administrator, refusal, TestRegister } from './register'

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

describe('links changed together by the hundred', () => {
  const many = (links: readonly number[], steps: readonly object[]) => {
    const input = proposalCreate.parse({ select: { links }, change: { steps }, reason: 'for a test' })
    return makeProposal(register.db, administrator, input).then(async ({ id }) => {
      for (;;) {
        const now = await readProposal(register.db, id)
        if (now.state !== 'computing') return makeChange(register.db, administrator, id, now.version)
        await new Promise((resolve) => setTimeout(resolve, 10))
      }
    })
  }

  it('are taken in a few at a time, and come to what the database would give', async () => {
    const ids: number[] = []
    for (let index = 0; index < 240; index++)
      ids.push((await register.link(`many-${index}`, `https://many.example/${index % 40}`)).id)
    await currentSurvey(register.db)
    const late = await readSurvey(register.db)
    late.scanAll()
    await many(ids, [{ do: 'move-host', from: 'many.example', to: 'moved.example' }])
    expect(await catchUp(register.db, late)).toBeDefined()
    expect(late.behind.size).toBe(240)
    // One of them changes again by itself meanwhile: its row is the newer one.
    await register.changeLink(await readLink(register.db, ids[7]!), { destination: 'https://own.example/' })
    await catchUp(register.db, late)
    expect(late.behind.size).toBe(239)
    while (late.behind.size > 0) await refreshStale(register.db, late, () => undefined)
    expect(whole(late)).toEqual(await fresh())
  })

  it('that lead on to each other are seen in a circle at once, before they are taken in', async () => {
    const ids: number[] = []
    for (let index = 0; index < 120; index++)
      ids.push((await register.link(`round-${index}`, `https://round.example/${index}`)).id)
    const outside = await register.link('outside', 'https://outside.example/')
    await currentSurvey(register.db)
    // All of them lead to the one outside, which then must not lead to any of them.
    await many(ids, [{ do: 'set', destination: 'https://ansl.example/outside' }])
    const closing = register.changeLink(await readLink(register.db, outside.id), {
      destination: 'https://ansl.example/round-99',
    })
    expect(await refusal(closing)).toMatchObject({ status: 422, detail: expect.stringMatching(/leads back|circle/) })
    await register.rule('/way/:id', 'https://ansl.example/round-{id}')
    const through = register.changeLink(await readLink(register.db, outside.id), {
      destination: 'https://ansl.example/way/5',
    })
    expect(await refusal(through)).toMatchObject({ status: 422, title: 'Redirect loop' })
    const back = await many([outside.id], [{ do: 'set', destination: 'https://ansl.example/round-7' }]).catch(
      (error: Error) => error,
    )
    expect(back).toMatchObject({ status: 409 })
  })
})
