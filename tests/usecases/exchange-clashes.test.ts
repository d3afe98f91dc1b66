import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { intakeRowsPatch } from '../../core/schemas'
import { keepAllConflicts } from '../../server/docket/conflicts/keep-conflicts'
import { readSurvey } from '../../server/usecases/conflicts/read-survey'
import { applyIntake } from '../../server/usecases/exchange/apply-intake'
import { decideIntakeRows, toIntakeView } from '../../server/usecases/exchange/intake-view'
import { changeIntake } from '../../server/usecases/exchange/intakes'
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
  it('takes one decision for all lines of one cause, as far as each of them allows it', async () => {
    await register.rule('/leaflets/*.pdf', 'https://www.portansel.example/leaflets/{+0}.pdf')
    await register.link('leaflet-1', 'https://www.portansel.example/1')
    await register.link('leaflet-2', 'https://www.portansel.example/2')
    const intake = await bring(
      'causes.htaccess',
      [
        ...Array.from({ length: 5 }, (_, at) => `Redirect 302 /leaflets/${at}.pdf https://elsewhere.example/${at}`),
        'Redirect 302 /leaflet-1 https://elsewhere.example/one',
        'Redirect 302 /leaflet-2 https://elsewhere.example/two',
        'Redirect 302 /quiet https://elsewhere.example/quiet',
      ].join('\n'),
      { context: 'server' },
    )
    const [hidden, elsewhere] = [
      { code: 'hidden', cause: '/leaflets/*.pdf', rows: 5 },
      { code: 'elsewhere', cause: '', rows: 2 },
    ]
    expect((await toIntakeView(register.db, intake.id)).causes).toEqual([
      { ...hidden, undecided: 5, decision: null, choices: ['bring', 'paused', 'leave'] },
      { ...elsewhere, undecided: 2, decision: null, choices: ['replace', 'leave'] },
    ])
    const decided = await decideIntakeRows(register.db, intake.id, {
      code: 'hidden',
      cause: '/leaflets/*.pdf',
      decision: 'paused',
    })
    expect(decided.causes[0]).toMatchObject({ ...hidden, undecided: 0, decision: 'paused' })
    expect(decided.counts).toMatchObject({ undecided: 2, bring: 6 })
    // Another rule of the same finding is another cause.
    const other = { code: 'hidden', cause: '/other/*', decision: 'leave' } as const
    expect((await decideIntakeRows(register.db, intake.id, other)).causes[0]).toMatchObject({ decision: 'paused' })
    const position = (await rowsOf(intake.id)).find(({ address }) => address.endsWith('/leaflets/3.pdf'))!.position
    const mixed = await decideIntakeRows(register.db, intake.id, { positions: [position], decision: 'leave' })
    expect(mixed.causes[0]).toMatchObject({ undecided: 0, decision: null })
    expect(await rowsOf(intake.id)).toContainEqual(
      expect.objectContaining({ cause: '/leaflets/*.pdf', decision: 'leave' }),
    )
    // What cannot be decided for a line leaves it as it was.
    const kept = await decideIntakeRows(register.db, intake.id, { code: 'elsewhere', cause: '', decision: 'bring' })
    expect(kept.causes[1]).toMatchObject({ undecided: 2 })
    expect(intakeRowsPatch.safeParse({ cause: '/leaflets/*.pdf', decision: 'leave' }).success).toBe(false)
  })

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

  it('keeps the first of two lines that clash with each other when the rest is left', async () => {
    const intake = await bring(
      'news.htaccess',
      [
        'RewriteEngine On',
        'RewriteRule ^news/x$ https://www.portansel.example/news-x [R=302,L]',
        'RewriteRule ^news/(.*)$ https://elsewhere.example/$1 [R=302,L]',
      ].join('\n'),
      { context: 'folder' },
    )
    const rows = await rowsOf(intake.id)
    expect(rows.map(({ line, kind }) => [line, kind])).toEqual([
      [2, 'new'],
      [3, 'clash'],
    ])
    const decided = await decideIntakeRows(register.db, intake.id, { kind: 'clash', decision: 'leave' })
    await applyIntake(register.db, editor, intake.id, decided.version)
    const link = await register.db.Link.findOne({ where: { canonical: 'news/x' }, rejectOnEmpty: true })
    expect(link.destination).toBe('https://www.portansel.example/news-x')
    expect(await register.db.Rule.count({ where: { destination: 'https://elsewhere.example/{+1}' } })).toBe(0)
  })

  it('asks a rule that stands in for links before the rules of the file, as links are', async () => {
    const lines = Array.from({ length: 30 }, (_, at) => {
      const stop = 4400 + at
      return `RewriteRule ^berth/${stop}$ https://live.portansel.example/s/${stop} [R=302,L]`
    })
    const rest = 'RewriteRule ^berth/(.*)$ https://www.portansel.example/$1 [R=302,L]'
    const intake = await bring('berths.htaccess', ['RewriteEngine On', ...lines, rest].join('\n'), {
      context: 'folder',
    })
    const open = await decideIntakeRows(register.db, intake.id, { kind: 'clash', decision: 'bring' })
    expect(open.families).toHaveLength(1)
    const taken = await changeIntake(register.db, register.url, intake.id, open.version, { families: [0] })
    await applyIntake(register.db, editor, intake.id, taken.version)
    const rules = await register.db.Rule.findAll({ order: ['position'] })
    expect(rules.slice(-2).map(({ destination }) => destination)).toEqual([
      'https://live.portansel.example/s/{id}',
      'https://www.portansel.example/{+1}',
    ])
  })
})
