import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { ACTIONS, SUBJECT_KINDS, undoRole, type Action } from '../../core/ledger'
import { mayAct, ROLES } from '../../core/schemas'
import { listLedger } from '../../server/usecases/ledger/list-ledger'
import { undo } from '../../server/usecases/ledger/undo'
import { administrator, as, editor, NO_NAMES, refusal, TestRegister } from './register'

let register: TestRegister
beforeAll(async () => (register = await TestRegister.start()))
afterAll(() => register.stop())

const undoAs = (actor: typeof editor, id: number) => undo(register.db, NO_NAMES, actor, id, { overwrite: true })

describe('undoing', () => {
  it('takes the role that doing it takes, for every action and kind of subject', async () => {
    const at = new Date()
    for (const action of Object.keys(ACTIONS) as Action[]) {
      for (const kind of SUBJECT_KINDS) {
        // About something that is not there: who may not is told so before it is looked for.
        const row = await register.db.LedgerEntry.create({
          revision: 0,
          at,
          actor: 'a test',
          memberId: null,
          reason: '',
          action,
          subjectKind: kind,
          subjectId: 999_999,
          subjectLabel: 'nothing',
          beforeState: {},
          afterState: {},
        } as never)
        const needed = undoRole(action, kind)
        const { items } = await listLedger(register.db, { memberId: null, name: 'test', role: 'administrator' }, {
          limit: 1,
        } as never)
        expect(items[0], `${action} of a ${kind}`).toMatchObject({ undoRole: needed ?? null })
        for (const role of ROLES) {
          const { status } = await refusal(undoAs(as(role), row.id))
          const expected = needed === undefined ? [409] : mayAct(role, needed) ? [404, 409] : [403]
          expect(expected, `${action} of a ${kind} as ${role}`).toContain(status)
        }
        await row.destroy()
      }
    }
  })

  it('of an undoing takes the role of what was undone first, however often it went back and forth', async () => {
    const rule = await register.rule('/archive/*', 'https://archive.example/{0}')
    await register.changeRule(rule, { destination: 'https://old.example/{0}' })
    const first = await register.entry()
    const second = await undoAs(administrator, first.id)
    const third = await undoAs(administrator, second.id)
    expect(third.undoRole).toBe('administrator')
    expect((await refusal(undoAs(editor, third.id))).status).toBe(403)
    const link = await register.link('plain', 'https://plain.example/')
    await register.changeLink(link, { destination: 'https://other.example/' })
    const back = await undoAs(editor, (await register.entry()).id)
    expect((await undoAs(editor, back.id)).undoRole).toBe('editor')
  })

  it('is refused where the link would lead round in a circle, and where a rule would', async () => {
    const one = await register.link('one', 'https://ansl.example/two')
    await register.changeLink(one, { destination: 'https://end.example/' })
    const away = await register.entry()
    await register.link('two', 'https://ansl.example/one')
    expect(await refusal(undoAs(administrator, away.id))).toMatchObject({
      status: 422,
      detail: expect.stringContaining('leads back to the link'),
    })
    expect((await register.db.Link.findByPk(one.id))!.destination).toBe('https://end.example/')

    const rule = await register.rule('/turn/*', 'https://ansl.example/round')
    await register.changeRule(rule, { destination: 'https://turned.example/{0}' })
    const turned = await register.entry()
    await register.link('round', 'https://ansl.example/turn/about')
    expect((await refusal(undoAs(administrator, turned.id))).status).toBe(422)
  })

  it('of the making of a link that others became part of is refused with a sentence', async () => {
    const later = new Date(Date.now() + 86_400_000).toISOString()
    const kept = await register.link('soon', 'https://soon.example/', { startsAt: later })
    const made = await register.entry('create')
    const other = await register.link('sooner', 'https://sooner.example/')
    await register.db.Link.update({ forwardsTo: kept.id }, { where: { id: other.id } })
    expect(await refusal(undoAs(administrator, made.id))).toMatchObject({
      status: 409,
      detail: expect.stringContaining('ansl.example/sooner'),
    })
    expect(await register.db.Link.findByPk(kept.id)).not.toBeNull()
  })
})
