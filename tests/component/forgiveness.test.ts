import { flushPromises, mount } from '@vue/test-utils'
import { describe, expect, it, vi } from 'vitest'
import { reactive, ref } from 'vue'
import ForgivenessForm from '../../app/components/slugs/ForgivenessForm.vue'
import type { Domain, ForgivenessReport } from '../../core/schemas'

const may = vi.fn().mockReturnValue(true)
const load = vi.fn()
const save = vi.fn()
const form = {
  fields: reactive({ mendPunctuation: true, mendCapitals: false, mendLookAlikes: false }),
  fault: ref(''),
  saving: ref(false),
  meanwhile: ref(),
  clashes: ref([]),
  resumed: ref(false),
  changed: ref<string[]>([]),
  save,
}
vi.stubGlobal('useSessionStore', () => ({ may }))
vi.stubGlobal('useSlugRulesStore', () => ({ load }))
vi.stubGlobal('useDomainForm', () => form)

const part = (name: string, more = {}) => ({
  part: name,
  on: false,
  did: 0,
  would: 0,
  ambiguous: 0,
  examples: [],
  ...more,
})
const report = {
  days: 28,
  missed: 1523,
  paths: 40,
  parts: [
    part('punctuation', { on: true }),
    part('capitals', {
      would: 1049,
      ambiguous: 3,
      examples: [
        { path: 'NIGHT', requests: 1040, leadsTo: 'night' },
        { path: 'JOBS', requests: 3, leadsTo: null },
      ],
    }),
    part('look-alikes', { on: true, did: 65, would: 2 }),
  ],
} as ForgivenessReport
const shown = (given?: ForgivenessReport) => {
  const made = mount(ForgivenessForm, {
    global: { stubs: { VAlert: true } },
    props: { domain: { id: 2 } as Domain, report: given },
  })
  const words = (name: string) => made.get(`#mend-${name}`).text().replace(/\s+/g, ' ')
  return { made, words }
}

describe('forgiveness', () => {
  it('tells of a switch that is on what it mended, be it nothing', () => {
    expect(shown(report).words('punctuation')).toMatch(/0 corrected\. Ambiguous: 0\.$/)
  })

  it('tells of one that was on for a part of the time both what it mended and what it would have', () => {
    expect(shown(report).words('look-alikes')).toContain('65 corrected. Would have corrected 2. Ambiguous: 0.')
  })

  it('tells of one that is off what it would have mended, what stayed ambiguous, and examples of both', () => {
    const { words, made } = shown(report)
    expect(words('capitals')).toContain('Would have corrected 1,049. Ambiguous: 3.')
    expect(words('capitals')).toContain('NIGHT → night (1,040)')
    expect(words('capitals')).toMatch(/JOBS could be several \(3\)/)
    expect(made.text()).toContain('1,523 requests were not found in the last 28 days.')
  })

  it('claims nothing before the figures are there', () => {
    const { words, made } = shown()
    expect(words('capitals')).not.toMatch(/corrected|Ambiguous/)
    expect(made.text()).not.toContain('were not found in the last')
  })

  it('is saved where something changed, and its figures are read anew', async () => {
    form.changed.value = []
    const { made } = shown(report)
    expect(made.get('button[type=submit]').attributes('disabled')).toBeDefined()
    form.changed.value = ['mendCapitals']
    await flushPromises()
    await made.get('form').trigger('submit')
    await flushPromises()
    expect(save).toHaveBeenCalledOnce()
    expect(load).toHaveBeenCalledWith(2)
  })

  it('is shown to whoever may not change it, without a way to', () => {
    may.mockReturnValue(false)
    const { made, words } = shown(report)
    expect(made.find('button[type=submit]').exists()).toBe(false)
    expect(made.findAll('input').every((input) => input.attributes('disabled') !== undefined)).toBe(true)
    expect(words('capitals')).toContain('Would have corrected 1,049')
    may.mockReturnValue(true)
  })
})
