import { effectScope, nextTick } from 'vue'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { z } from 'zod'
import { forgetDrafts } from '../../app/composables/form-drafts'
import { useVersionedForm } from '../../app/composables/useVersionedForm'
import { ApiProblem } from './api-problem'
import { problem } from './problem'

interface Thing {
  id: number
  version: number
  title: string
  note: string
}
const thing = (more: Partial<Thing> = {}): Thing => ({ id: 1, version: 3, title: 'Fares', note: '', ...more })
const save = vi.fn()
let held = 0
vi.stubGlobal('useSessionStore', () => ({
  session: { member: { id: 7 } },
  holdForms: (more: number) => (held += more),
}))
const schema = z.strictObject({
  title: z.string().max(8, 'At most 8 characters.').optional(),
  note: z.string().optional(),
  secret: z.string().optional(),
  reason: z.string().optional(),
})
const form = (more: object = {}) =>
  useVersionedForm<{ title: string; note: string; secret: string }, Thing>({
    name: (of) => `thing ${of?.id ?? 'new'}`,
    blank: () => ({ title: '', note: '', secret: '' }),
    fieldsOf: ({ title, note }) => ({ title, note, secret: '' }),
    schema: { change: schema },
    save,
    secret: ['secret'],
    ...more,
  })
const conflict = (current: Thing) => new ApiProblem(problem({ status: 412, current }))

beforeEach(() => {
  vi.useFakeTimers()
  save.mockReset()
  held = 0
})
/** What was typed is judged and kept a moment after the last letter. */
const typed = async () => {
  await nextTick()
  await vi.advanceTimersByTimeAsync(300)
}

describe('a form over something kept under a version', () => {
  it('sends what differs only, under the version as opened', async () => {
    save.mockImplementation(async () => thing({ title: 'Tickets', version: 4 }))
    const one = form()
    one.open(thing())
    one.fields.title = 'Tickets'
    expect(await one.save()).toMatchObject({ version: 4 })
    expect(save).toHaveBeenCalledWith({ title: 'Tickets' }, thing(), 3)
    expect(one.changed.value).toEqual([])
  })

  it('shows the shared schema’s sentence at the field while somebody types, until it is mended', async () => {
    const one = form()
    one.open(thing())
    one.fields.title = 'Much too long'
    await typed()
    expect(one.faults.value).toEqual({ title: 'At most 8 characters.' })
    expect(await one.save()).toBeUndefined()
    expect(save).not.toHaveBeenCalled()
    one.fields.title = 'Short'
    await typed()
    expect(one.faults.value).toEqual({})
  })

  it('keeps what was typed when it is left, and goes on with it; never a secret', async () => {
    const first = effectScope()
    first.run(() => {
      const one = form()
      one.open(thing())
      one.fields.note = 'half a'
      one.fields.secret = 'hush'
    })
    first.stop()
    expect(held).toBe(0)
    expect(JSON.stringify({ ...sessionStorage })).not.toContain('hush')
    const again = form()
    again.open(thing())
    expect(again.fields).toEqual({ title: 'Fares', note: 'half a', secret: '' })
    expect(again.resumed.value).toBe(true)
    again.discard()
    expect(again.fields.note).toBe('')
    const last = form()
    last.open(thing())
    expect([last.fields.note, last.resumed.value]).toEqual(['', false])
  })

  it('with a draft of an older version shows both, and goes over the newer one only when told', async () => {
    const one = form()
    one.open(thing())
    one.fields.title = 'Mine'
    one.close()
    const theirs = thing({ version: 5, title: 'Theirs', note: 'new' })
    const again = form()
    again.open(theirs)
    expect(again.clashes.value).toEqual([
      { name: 'title', before: 'Fares', theirs: 'Theirs', yours: 'Mine' },
      { name: 'note', before: '', theirs: 'new', yours: '' },
    ])
    save.mockImplementation(async () => thing({ version: 6, title: 'Mine', note: 'new' }))
    await again.save()
    expect(save).toHaveBeenCalledWith({ title: 'Mine' }, thing(), 5)
    expect(again.meanwhile.value).toBeUndefined()
  })

  it('told of a quicker save shows both versions; theirs can be taken', async () => {
    const theirs = thing({ version: 4, title: 'Theirs' })
    save.mockRejectedValue(conflict(theirs))
    const one = form()
    one.open(thing())
    one.fields.title = 'Mine'
    expect(await one.save()).toBeUndefined()
    expect(one.fields.title).toBe('Mine')
    expect(one.clashes.value).toEqual([{ name: 'title', before: 'Fares', theirs: 'Theirs', yours: 'Mine' }])
    one.takeTheirs()
    expect(one.fields.title).toBe('Theirs')
    expect(one.opened.value).toEqual(theirs)
  })

  it('where it merges apart, asks only about fields both have changed', async () => {
    save
      .mockRejectedValueOnce(conflict(thing({ version: 4, note: 'theirs' })))
      .mockResolvedValueOnce(thing({ version: 5 }))
    const one = form({ mergesApart: true })
    one.open(thing())
    one.fields.title = 'Mine'
    expect(await one.save()).toMatchObject({ version: 5 })
    expect(save.mock.calls.map(([, , version]) => version)).toEqual([3, 4])
    save.mockReset().mockRejectedValueOnce(conflict(thing({ version: 6, title: 'Theirs' })))
    one.fields.title = 'Again'
    expect(await one.save()).toBeUndefined()
    expect(save).toHaveBeenCalledTimes(1)
    expect(one.meanwhile.value).toMatchObject({ version: 6 })
  })

  it('holds the session while it is open, so that one that ends is taken up in place', () => {
    const one = form()
    one.open(thing())
    one.open(thing())
    expect(held).toBe(1)
    one.close()
    expect(held).toBe(0)
  })

  it('with storage that refuses loses the draft and nothing else', async () => {
    const refuse = vi.spyOn(Storage.prototype, 'setItem').mockImplementation(() => {
      throw new DOMException('full', 'QuotaExceededError')
    })
    const one = form()
    one.open(thing())
    one.fields.note = 'kept'
    await typed()
    expect(one.fields.note).toBe('kept')
    refuse.mockRestore()
    sessionStorage.setItem('fides draft 7 thing 1', '{"not": a draft')
    expect(() => form().open(thing())).not.toThrow()
  })
})

describe('signing out', () => {
  it('leaves no draft behind, and nothing else is lost', () => {
    sessionStorage.setItem('fides draft 7 thing 1', '{}')
    sessionStorage.setItem('fides draft 0 thing 2', '{}')
    sessionStorage.setItem('scroll', '12')
    forgetDrafts()
    expect({ ...sessionStorage }).toEqual({ scroll: '12' })
  })
})
