import { flushPromises, mount } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import RuleFindings from '../../app/components/rules/RuleFindings.vue'
import RuleLookup from '../../app/components/rules/RuleLookup.vue'
import RuleReach from '../../app/components/rules/RuleReach.vue'
import StateMark from '../../app/components/address/StateMark.vue'
import { useRuleOrder } from '../../app/composables/useRuleOrder'
import type { Rule, RuleFinding, RulesPreviewed } from '../../core/schemas'
import { ApiProblem } from './api-problem'
import { problem } from './problem'

const store = {
  rules: [
    { id: 7, pattern: '/a/*' },
    { id: 9, pattern: '/b/*' },
    { id: 4, pattern: '/c/*' },
  ] as Rule[],
  wanted: undefined as number[] | undefined,
  get ordered(): Rule[] {
    return this.wanted?.map((id) => this.rules.find((rule) => rule.id === id)!) ?? this.rules
  },
  preview: vi.fn(),
  test: vi.fn(),
  saveOrder: vi.fn(),
}
const tell = vi.fn()
vi.stubGlobal('useRulesStore', () => store)
vi.stubGlobal('useNotice', () => ({ tell }))
const global = { components: { StateMark } }

beforeEach(() => {
  vi.useFakeTimers()
  vi.clearAllMocks()
  store.wanted = undefined
})
afterEach(() => vi.useRealTimers())
const pause = async () => {
  await vi.advanceTimersByTimeAsync(500)
  await flushPromises()
}

describe('what is wrong with a rule', () => {
  const numberOf = (id: number) => store.rules.findIndex((rule) => rule.id === id) + 1
  const finding = (more: Partial<RuleFinding>): RuleFinding => ({
    rule: 4,
    kind: 'hidden',
    others: [7],
    witness: 'ansl.example/a/b',
    moveBefore: 7,
    ...more,
  })
  const told = (more: Partial<RuleFinding>, mayChange = true) =>
    mount(RuleFindings, { global, props: { findings: [finding(more)], numberOf, mayChange } })

  it('names the rules by their numbers, and offers the move that mends it', async () => {
    const one = told({})
    expect(one.text()).toContain('Never applies: rule 1 matches all its addresses first')
    await one.get('button').trigger('click')
    expect(one.emitted('moveBefore')).toEqual([[7]])
    expect(told({ others: [9, 7] }).text()).toContain('rules 1 and 2 together match all its addresses')
    expect(told({ others: [] }).text()).toContain('links answer every address it matches')
    expect(told({ kind: 'overlapping', moveBefore: null }).text()).toContain('Overlaps rule 1')
  })
  it('offers nothing to who may not, and nothing that would not help', () => {
    expect(told({}, false).find('button').exists()).toBe(false)
    expect(told({ moveBefore: null }).find('button').exists()).toBe(false)
  })
})

describe('what a rule matches', () => {
  const nothing: RulesPreviewed = { faults: [], reach: null, added: [], removed: [] }
  const reach = { links: 0, linkExamples: [], before: [], after: [], example: 'ansl.example/x' }
  const draft = (pattern: string) => ({ domain: 'ansl.example', drafts: [{ pattern }], mine: 1, isOn: true })

  it('is asked once typing pauses, the last pattern only', async () => {
    store.preview.mockResolvedValue({
      ...nothing,
      reach: {
        ...reach,
        links: 99,
        linkExamples: ['ansl.example/a/1'],
        before: [{ rule: 2, pattern: '/a/*', whole: false, witness: 'ansl.example/a/2' }],
      },
    })
    const box = mount(RuleReach, { global, props: draft('/a') })
    await box.setProps(draft('/a/'))
    await box.setProps(draft('/a/:id'))
    await pause()
    expect(store.preview).toHaveBeenLastCalledWith(
      { domain: 'ansl.example', rules: [{ pattern: '/a/:id' }], mine: 1 },
      expect.anything(),
    )
    for (const text of ['Applies to ansl.example/x', '99 links match it and answer first', 'Rule 2 /a/* matches some'])
      expect(box.text().replace(/\s+/g, ' ')).toContain(text)
  })
  it('says why it is not compared, and that it never applies', async () => {
    store.preview.mockResolvedValue({ ...nothing, faults: [{ rule: 1, sentence: 'The group is not closed.' }] })
    const box = mount(RuleReach, { global, props: draft('/a(') })
    await pause()
    expect(box.text()).toContain('Not compared yet. The group is not closed.')
    store.preview.mockResolvedValue({
      ...nothing,
      reach: { ...reach, example: null, before: [{ rule: 1, pattern: '/*', whole: true, witness: 'ansl.example/a' }] },
    })
    await box.setProps(draft('/a'))
    await pause()
    expect(box.text()).toContain('Never applies: earlier rules match all of it.')
    store.preview.mockRejectedValue(new ApiProblem(problem({ status: 503, detail: 'Too many computations wait.' })))
    await box.setProps(draft('/ab'))
    await pause()
    expect(box.text()).toContain('Too many computations wait.')
  })
  it('shows nothing while there is no pattern', async () => {
    const box = mount(RuleReach, { global, props: draft('') })
    await pause()
    expect(box.text()).toBe('')
    expect(store.preview).not.toHaveBeenCalled()
  })
})

describe('which rule matches an address', () => {
  it('is told with the rules that match later', async () => {
    store.test.mockResolvedValue({
      items: [{ by: 'rule', rule: 2, later: [3, 5], link: null, location: 'https://x.example/', sentence: '' }],
    })
    const field = mount(RuleLookup, { global, props: { domain: 'ansl.example' } })
    await field.get('input').setValue('ansl.example/a')
    await pause()
    expect(field.text()).toContain('Rules 3 and 5 match too, but come later.')
    expect(field.emitted('answers')!.at(-1)).toEqual([2])
    await field.get('input').setValue('')
    await pause()
    expect(field.emitted('answers')!.at(-1)).toEqual([null])
  })
})

describe('an order of rules', () => {
  const conflict = { key: 'hidden rule 4', severity: 'broken', headline: 'Rule never applies', sentence: 'x.' }
  it('is shown before it is saved, and taken back by Cancel', async () => {
    const { move, moveBefore, cancel, told } = useRuleOrder()
    await move(2, 0)
    expect(store.wanted).toEqual([4, 7, 9])
    expect(told.value).toBe('/c/* is number 1 of 3; not saved yet.')
    await moveBefore(9, 7)
    expect(store.wanted).toEqual([4, 9, 7])
    await move(0, -1)
    expect(store.wanted).toEqual([4, 9, 7])
    cancel()
    expect(store.wanted).toBeUndefined()
    expect(store.saveOrder).not.toHaveBeenCalled()
  })
  it('that brings a conflict is saved with a reason only', async () => {
    const { move, save, conflicts, reason } = useRuleOrder()
    await move(2, 0)
    store.saveOrder.mockRejectedValueOnce(new ApiProblem(problem({ status: 409, detail: 'x', conflicts: [conflict] })))
    await save()
    expect(conflicts.value).toHaveLength(1)
    expect(store.wanted).toEqual([4, 7, 9])
    reason.value = 'on purpose'
    store.saveOrder.mockResolvedValueOnce(undefined)
    await save()
    expect(store.saveOrder).toHaveBeenLastCalledWith('on purpose')
    expect([conflicts.value, reason.value]).toEqual([[], ''])
  })
})
