import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import IntakeCauses from '../../app/components/exchange/IntakeCauses.vue'
import IntakeFilters from '../../app/components/exchange/IntakeFilters.vue'
import type { Intake, IntakeCause } from '../../core/schemas'

const byRule: IntakeCause = {
  code: 'hidden',
  cause: '/leaflets/*.pdf',
  rows: 1056,
  undecided: 1056,
  decision: null,
  choices: ['bring', 'paused', 'leave'],
}
const elsewhere: IntakeCause = {
  code: 'elsewhere',
  cause: '',
  rows: 2,
  undecided: 1,
  decision: null,
  choices: ['replace', 'leave'],
}
const shown = (causes: IntakeCause[], mayDecide = true) => mount(IntakeCauses, { props: { causes, mayDecide } })
const words = (view: ReturnType<typeof shown>) => view.findAll('.words').map((one) => one.text().replace(/\s+/g, ' '))

describe('conflicts of an import, by cause', () => {
  it('say how many lines conflict with what, and take one decision for them', async () => {
    const view = shown([byRule, elsewhere])
    expect(words(view)).toEqual([
      '1,056 lines match the pattern of rule /leaflets/*.pdf',
      '2 lines have another destination in the register; 1 undecided',
    ])
    const [first, second] = view.findAll('select')
    expect(first!.findAll('option').map((option) => option.text())).toEqual([
      'Decide…',
      'Import',
      'Import as paused',
      'Skip',
    ])
    expect(second!.findAll('option').map((option) => option.text())).toEqual([
      'Several decisions',
      'Replace with the file’s',
      'Keep existing',
    ])
    await first!.setValue('leave')
    expect(view.emitted('decide')).toEqual([[byRule, 'leave']])
  })

  it('show what was decided, and nothing where no two lines have one cause', () => {
    const decided = shown([{ ...byRule, undecided: 0, decision: 'leave' }], false)
    expect(decided.get('select').element.value).toBe('leave')
    expect(decided.get('select').attributes('disabled')).toBeDefined()
    expect(decided.text()).not.toContain('undecided')
    expect(shown([]).find('section').exists()).toBe(false)
  })
})

describe('the kinds of lines of an import', () => {
  const counts = { new: 3, rule: 0, same: 0, clash: 2, refused: 0, undecided: 2, inRules: 0, checkFailed: 0 }
  const filters = (state: Intake['state']) =>
    mount(IntakeFilters, {
      props: { intake: { state, counts, follows: null } as unknown as Intake, filter: undefined },
      global: { stubs: { VBtn: { template: '<button><slot /></button>' } } },
    })
      .findAll('button')
      .map((button) => button.text())

  it('are named by what came of them once it is imported', () => {
    expect(filters('ready')).toEqual(['All 5', 'New 3', 'Conflicting 2', 'Undecided 2'])
    expect(filters('applied')).toEqual(['All 5', 'New 3', 'Conflicting 2', 'Not imported 2'])
  })
})
