import { QueryTypes } from 'sequelize'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { aliasCreate } from '../../core/schemas'
import { listLedger } from '../../server/usecases/ledger/list-ledger'
import { undo } from '../../server/usecases/ledger/undo'
import { addAlias, removeAlias } from '../../server/usecases/links/aliases'
import { readLink } from '../../server/usecases/links/read-link'
import { administrator, editor, NO_NAMES, refusal, TestRegister } from './register'

let register: TestRegister
beforeAll(async () => {
  register = await TestRegister.start()
  await register.link('fares', 'https://www.example/fares')
})
afterAll(() => register.stop())

describe('further slugs of a link', () => {
  it('are made with it, told apart, found by search, and taken away and given again', async () => {
    const { db } = register
    const link = await register.link('harbour', 'https://www.example/harbour', { aliases: ['quay', 'port'] })
    expect((await readLink(db, link.id)).aliases!.map(({ slug }) => slug).sort()).toEqual(['port', 'quay'])
    await addAlias(db, editor, link.id, aliasCreate.parse({ slug: 'waterfront', reason: 'asked for' }))
    expect(
      await refusal(addAlias(db, editor, link.id, aliasCreate.parse({ slug: 'fares', reason: 'x' }))),
    ).toMatchObject({ status: 409 })
    expect(aliasCreate.safeParse({ slug: 'bad slug', reason: 'x' }).success).toBe(false)
    const quay = (await readLink(db, link.id)).aliases!.find(({ slug }) => slug === 'quay')!
    await db.sequelize.query('INSERT INTO visit_day (link_id, day, visits) VALUES (?, CURDATE(), 3)', {
      replacements: [quay.id],
    })
    await removeAlias(db, editor, link.id, quay.id, 'misprint')
    const [{ visits }] = (await db.sequelize.query<{ visits: number }>(
      'SELECT SUM(visits) AS visits FROM visit_day WHERE link_id = ?',
      { replacements: [link.id], type: QueryTypes.SELECT },
    )) as [{ visits: number }]
    expect(Number(visits)).toBe(3)
    const taken = (await register.entry('unalias')).id
    const history = await listLedger(
      db,
      { memberId: null, name: 'test', role: 'administrator' },
      { limit: 10 },
      link.id,
    )
    expect(history.items.map(({ action }) => action)).toEqual(['unalias', 'alias', 'alias', 'alias', 'create'])
    await undo(db, NO_NAMES, administrator, taken, { overwrite: false })
    const given = (await register.db.LedgerEntry.findOne({ where: { undoesId: taken } }))!.id
    await undo(db, NO_NAMES, administrator, given, { overwrite: false })
    expect((await readLink(db, link.id)).aliases!.map(({ slug }) => slug).sort()).toEqual(['port', 'waterfront'])
    const again = (await register.db.LedgerEntry.findOne({ where: { undoesId: given } }))!.id
    await undo(db, NO_NAMES, administrator, again, { overwrite: false })
    expect((await readLink(db, link.id)).aliases!.map(({ slug }) => slug).sort()).toEqual([
      'port',
      'quay',
      'waterfront',
    ])
  })
})
