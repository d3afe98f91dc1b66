import { effectScope } from 'vue'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { useDomainForm } from '../../app/composables/useDomainForm'
import type { Domain } from '../../core/schemas'
import { ApiProblem } from './api-problem'
import { problem } from './problem'

const save = vi.fn()
const tell = vi.fn()
const inHand = () => ({ id: 3, version: 5, registrar: 'Old', yearlyPrice: 10 }) as unknown as Domain
const store = { domain: inHand(), save }
vi.stubGlobal('useDomainStore', () => store)
vi.stubGlobal('useNotice', () => ({ tell }))
beforeEach(() => {
  save.mockReset()
  tell.mockReset()
  store.domain = inHand()
})

describe('the form of a domain’s fields', () => {
  it('sends only what was changed, and takes what was saved as its new base', async () => {
    const form = useDomainForm(['registrar', 'yearlyPrice'])
    form.fields.yearlyPrice = 12
    expect(form.changed.value).toEqual(['yearlyPrice'])
    save.mockResolvedValue({ ...store.domain, yearlyPrice: 12 })
    await form.save()
    expect(save).toHaveBeenCalledWith(5, { yearlyPrice: 12 })
    expect(form.changed.value).toEqual([])
  })
  it('keeps what was typed, and names the field at fault', async () => {
    const form = useDomainForm(['registrar', 'yearlyPrice'])
    form.fields.yearlyPrice = -1
    // The shared schema judges before anybody is asked.
    await form.save()
    expect(save).not.toHaveBeenCalled()
    expect(form.faults.value).toEqual({ yearlyPrice: 'A price cannot be below 0.' })
    expect(form.fields.yearlyPrice).toBe(-1)
    form.fields.yearlyPrice = 12
    save.mockRejectedValue(
      new ApiProblem(
        problem({ status: 422, detail: 'No', errors: [{ pointer: '/yearlyPrice', detail: 'Too dear.' }] }),
      ),
    )
    await form.save()
    expect(form.faults.value).toEqual({ yearlyPrice: 'Too dear.' })
    expect(form.fields.yearlyPrice).toBe(12)
    // What was refused goes when it is mended.
    form.fields.yearlyPrice = 11
    expect(form.faults.value).toEqual({})
  })
  it('left while another domain comes into hand keeps what was typed for the domain it was typed for', () => {
    const scope = effectScope()
    scope.run(() => (useDomainForm(['registrar', 'yearlyPrice']).fields.registrar = 'Half a name'))
    const first = store.domain
    store.domain = undefined as unknown as Domain
    expect(() => scope.stop()).not.toThrow()
    store.domain = { id: 4, version: 1, registrar: 'Other', yearlyPrice: 1 } as unknown as Domain
    expect(useDomainForm(['registrar', 'yearlyPrice']).fields.registrar).toBe('Other')
    store.domain = first
    expect(useDomainForm(['registrar', 'yearlyPrice']).fields.registrar).toBe('Half a name')
  })
  it('tells what somebody saved meanwhile, and puts ours over it only when saved again', async () => {
    const form = useDomainForm(['registrar', 'yearlyPrice'])
    form.fields.registrar = 'Mine'
    save.mockRejectedValueOnce(
      new ApiProblem(
        problem({
          status: 412,
          detail: 'Changed',
          current: { id: 3, version: 6, registrar: 'Theirs', yearlyPrice: 10 },
        }),
      ),
    )
    await form.save()
    expect(form.clashes.value).toEqual([{ name: 'registrar', before: 'Old', theirs: 'Theirs', yours: 'Mine' }])
    expect(form.fields.registrar).toBe('Mine')
    save.mockResolvedValue({ ...store.domain, registrar: 'Mine' })
    await form.save()
    expect(save).toHaveBeenLastCalledWith(6, { registrar: 'Mine' })
    expect(form.faults.value).toEqual({})
    expect(form.meanwhile.value).toBeUndefined()
  })
  it('puts ours on top where somebody saved other fields only', async () => {
    const form = useDomainForm(['registrar', 'yearlyPrice'])
    form.fields.registrar = 'Mine'
    save.mockRejectedValueOnce(
      new ApiProblem(
        problem({ status: 412, detail: 'Changed', current: { id: 3, version: 6, registrar: 'Old', yearlyPrice: 99 } }),
      ),
    )
    save.mockResolvedValue({ ...store.domain, registrar: 'Mine' })
    await form.save()
    expect(save).toHaveBeenLastCalledWith(6, { registrar: 'Mine' })
    expect(form.meanwhile.value).toBeUndefined()
  })
})
