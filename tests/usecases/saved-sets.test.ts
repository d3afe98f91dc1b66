import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { SAVED_KINDS, savedSetCreate } from '../../core/schemas'
import { listSavedSets, removeSavedSet, saveSet } from '../../server/usecases/people/saved-sets'
import { as, editor, TestRegister } from './register'

let register: TestRegister
beforeAll(async () => (register = await TestRegister.start()))
afterAll(() => register.stop())

const viewer = as('viewer')
const view = (title: string, value: object = { tag: 'events' }) => savedSetCreate.parse({ kind: 'view', title, value })
const campaign = (title: string, value: object = { source: 'mail' }) =>
  savedSetCreate.parse({ kind: 'campaign', title, value })
const titles = async (memberId: number) => (await listSavedSets(register.db, memberId)).map(({ title }) => title)

describe('saved sets', () => {
  it('of a view are the member’s own; those of campaigns are everybody’s', async () => {
    await saveSet(register.db, viewer, 1, view('Events'))
    await saveSet(register.db, editor, 2, campaign('mail'))
    expect(await titles(1)).toEqual(['mail', 'Events'])
    expect(await titles(2)).toEqual(['mail'])
    await expect(saveSet(register.db, viewer, 1, campaign('other'))).rejects.toMatchObject({ status: 403 })
  })

  it('are replaced by one of the same name, also where two save at once', async () => {
    const [one, other] = await Promise.all([
      saveSet(register.db, viewer, 3, view('Same')),
      saveSet(register.db, viewer, 3, view('Same')),
    ])
    expect(one.id).toBe(other.id)
    await saveSet(register.db, viewer, 3, view('Same', { tag: 'fares', q: '' }))
    expect(await listSavedSets(register.db, 3)).toMatchObject([{ value: { tag: 'fares' } }, { kind: 'campaign' }])
  })

  it('are removed by whose they are, and nobody else', async () => {
    const own = await saveSet(register.db, viewer, 4, view('Mine'))
    const shared = await saveSet(register.db, editor, 2, campaign('poster'))
    await expect(removeSavedSet(register.db, editor, 2, own.id)).rejects.toMatchObject({ status: 404 })
    await expect(removeSavedSet(register.db, viewer, 4, shared.id)).rejects.toMatchObject({ status: 404 })
    await removeSavedSet(register.db, viewer, 4, own.id)
    await removeSavedSet(register.db, editor, 5, shared.id)
    expect(await titles(4)).toEqual(['mail'])
  })

  it('are so many at most; one of a known name is still replaced', async () => {
    for (let at = 0; at < SAVED_KINDS.view.max; at++) await saveSet(register.db, viewer, 6, view(`View ${at}`))
    await expect(saveSet(register.db, viewer, 6, view('One more'))).rejects.toMatchObject({ status: 422 })
    await saveSet(register.db, viewer, 6, view('View 0', { tag: 'new' }))
  })

  it.each([
    { kind: 'view', title: '', value: { tag: 'a' } },
    { kind: 'view', title: 'Empty', value: {} },
    { kind: 'view', title: 'Empty', value: { tag: '' } },
    { kind: 'view', title: 'Foreign', value: { password: 'x' } },
    { kind: 'campaign', title: 'Foreign', value: { tag: 'x' } },
    { kind: 'other', title: 'Kind', value: { tag: 'x' } },
  ])('are refused where they are none: %o', (input) => expect(savedSetCreate.safeParse(input).success).toBe(false))
})
