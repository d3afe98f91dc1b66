import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { keepAllConflicts } from '../../server/docket/conflicts/keep-conflicts'
import { readSurvey } from '../../server/usecases/conflicts/read-survey'
import { applyIntake } from '../../server/usecases/exchange/apply-intake'
import { decideIntakeRows } from '../../server/usecases/exchange/intake-view'
import { readLink } from '../../server/usecases/links/read-link'
import { undo } from '../../server/usecases/ledger/undo'
import { bringing } from './bringing'
import { administrator, editor, NO_NAMES, TestRegister } from './register'

let register: TestRegister
beforeAll(async () => (register = await TestRegister.start()))
afterAll(() => register.stop())
const { bring, rowsOf } = bringing(() => register)

/** The cases of conflicts after the worker's look at all of them. */
async function cases() {
  const survey = await readSurvey(register.db)
  survey.scanAll()
  await keepAllConflicts(register.db, survey)
  const rows = await register.db.DocketCase.findAll({ where: { lane: 'conflicts' }, order: ['kind', 'id'] })
  return rows.map(({ kind, state, reason }) => ({ kind, state, reason }))
}

describe('a file with lines that clash', () => {
  it('wants decisions, and the docket does not ask once more about what was brought in all the same', async () => {
    await register.link('harbour', 'https://www.portansel.example/harbour')
    await register.rule('/stop/:id', 'https://www.portansel.example/stops/:id')
    expect(await cases()).toEqual([])
    const intake = await bring(
      'clashes.htaccess',
      [
        'Redirect 302 /harbuor https://elsewhere.example/',
        'Redirect 302 /h4rbour https://elsewhere.example/4',
        'Redirect 302 /calm https://elsewhere.example/calm',
        'RedirectMatch 302 ^/stop/([0-9]+)$ https://elsewhere.example/$1',
      ].join('\n'),
      { context: 'server' },
    )
    const rows = (await rowsOf(intake.id)).filter(({ kind }) => kind === 'clash')
    expect(rows.map(({ line, code }) => [line, code])).toEqual([
      [1, 'one-slip'],
      [2, 'one-slip'],
      [4, 'hidden'],
    ])
    expect(rows[0]).toMatchObject({ decision: null, choices: ['bring', 'paused', 'leave'] })
    const decided = await decideIntakeRows(register.db, intake.id, { kind: 'clash', decision: 'bring' })
    await applyIntake(register.db, editor, intake.id, decided.version)
    const entry = await register.entry()
    const found = await cases()
    expect(found.map(({ kind }) => kind)).toEqual(['hidden', 'one-slip', 'one-slip'])
    for (const one of found) expect(one).toMatchObject({ state: 'settled', reason: intake.reason })

    // What it is about changes: it is asked anew.
    const link = await register.db.Link.findOne({ where: { canonical: 'harbour' }, rejectOnEmpty: true })
    await register.changeLink(await readLink(register.db, link.id), {
      destination: 'https://www.portansel.example/pier',
    })
    expect((await cases()).map(({ kind, state }) => [kind, state])).toContainEqual(['one-slip', 'open'])
    await undo(register.db, NO_NAMES, administrator, entry.id, { overwrite: false })
    expect((await cases()).filter(({ state }) => state === 'open')).toEqual([])
  })
})
