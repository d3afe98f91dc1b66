import { mount } from '@vue/test-utils'
import { describe, expect, it, vi } from 'vitest'
import CapacityPanel from '../../app/components/slugs/CapacityPanel.vue'
import DecisionRow from '../../app/components/slugs/DecisionRow.vue'
import SlugRulesReview from '../../app/components/slugs/SlugRulesReview.vue'
import StateMark from '../../app/components/address/StateMark.vue'
import { changedFields, sentenceOf } from '../../app/composables/ledger-words'
import type { AffectedLink, LedgerEntry } from '../../core/schemas'
import { OPEN_RULES } from '../../core/slugs'

vi.stubGlobal('useSessionStore', () => ({ may: () => true }))
const global = { components: { DecisionRow, StateMark } }
const affected = (more: Partial<AffectedLink>): AffectedLink => ({
  id: 1,
  address: 'go.example/jobs',
  slug: 'jobs',
  title: 'Working here',
  destination: 'https://careers.example/',
  standing: 'live',
  visits28: 1204,
  placements: { count: 0, copies: 0, fixed: false },
  sentences: [],
  suggestion: 'job-fair',
  ...more,
})
const capacity = {
  addresses: '1',
  taken: 0,
  alphabetSize: 31,
  random: { length: 7, capacity: 1, taken: 0, collision: 0, guesses: 1 },
  recommended: null,
}

describe('room', () => {
  it('tells the figures of the rules as they are typed, and offers the recommended length', async () => {
    const panel = mount(CapacityPanel, {
      props: {
        rules: {
          ...OPEN_RULES,
          alphabet: 'unmistakable',
          separators: '',
          depth: 1,
          minLength: 5,
          maxLength: 5,
          randomLength: 5,
        },
        capitalsMatter: true,
        taken: 50_000,
      },
    })
    expect(panel.text()).toContain('28,629,151')
    // 50,000 of 31^5 taken: 0.17%; two of the next 1,000 the same: 1.7%.
    expect(panel.text()).toContain('0.17%')
    expect(panel.text()).toContain('1.73%')
    expect(panel.text()).toContain('Recommended length: 6.')
    await panel.setProps({ rules: { ...OPEN_RULES, alphabet: 'unmistakable', maxLength: 40, randomLength: 5 } })
    await panel.get('button.v-btn').trigger('click')
    expect(panel.emitted('take')).toEqual([[6]])
  })
})

describe('what becomes of a link', () => {
  it('shows visits and placements, and that printed copies move with a merge', async () => {
    const row = mount(DecisionRow, {
      global,
      props: {
        link: affected({ placements: { count: 2, copies: 4200, fixed: true } }),
        others: [affected({ id: 2, slug: 'Jobs' })],
        decision: undefined,
        shared: true,
        keeps: false,
      },
    })
    expect(row.text()).toContain('1,204 visits in 28 days')
    expect(row.text()).toContain('2 placements, 4,200 copies, cannot be changed')
    row.findComponent({ name: 'VSelect' }).vm.$emit('update:modelValue', 'merge')
    expect(row.emitted('decide')).toEqual([[{ do: 'merge', into: 2 }]])
    await row.setProps({ decision: { do: 'merge', into: 2 } })
    expect(row.text()).toContain('Printed copies of it will lead where Jobs leads.')
  })
  it('offers a slug that would do', () => {
    const row = mount(DecisionRow, {
      global,
      props: { link: affected({}), others: [], decision: undefined, shared: false, keeps: false },
    })
    row.findComponent({ name: 'VSelect' }).vm.$emit('update:modelValue', 'rename')
    expect(row.emitted('decide')).toEqual([[{ do: 'rename', slug: 'job-fair' }]])
  })
})

describe('the review', () => {
  const review = (more: object) =>
    mount(SlugRulesReview, {
      global,
      props: {
        review: { breaking: [], breakingTotal: 0, merging: [], mergingTotal: 0, capacity, ...more },
        decisions: {},
        keepRest: false,
      },
    })
  it('says when nothing changes', () => expect(review({}).text()).toContain('No existing address is affected.'))
  it('names each address that would be shared, and takes decisions together', () => {
    const shown = review({
      merging: [{ address: 'go.example/jobs', links: [affected({}), affected({ id: 2, slug: 'Jobs' })] }],
      mergingTotal: 1,
    })
    expect(shown.text()).toContain('One address would be shared; choose the link that keeps each')
    shown.findAllComponents(DecisionRow)[1]!.vm.$emit('decide', { do: 'end' })
    expect(shown.emitted('update:decisions')).toEqual([[{ 2: { do: 'end' } }]])
  })
})

describe('the ledger’s words', () => {
  const entry = (more: Partial<LedgerEntry>): LedgerEntry => ({
    id: 1,
    revision: 1,
    at: '',
    actor: '',
    action: 'slug-rules',
    subject: { kind: 'domain', id: 1, label: 'ansl.example' },
    reason: '',
    before: {},
    after: {},
    undoes: null,
    undoneBy: null,
    undoable: true,
    undoRole: 'administrator',
    ...more,
  })
  it('tell what of the slug rules changed, long lists by their length', () => {
    const before = { slugRules: { alphabet: 'letters', blocked: [] }, capitalsMatter: true }
    const after = {
      slugRules: { alphabet: 'lower', blocked: Array.from({ length: 40 }, (_, at) => `word${at}`) },
      capitalsMatter: false,
    }
    expect(changedFields(entry({ before, after }))).toEqual(
      expect.arrayContaining([
        { name: 'Slug rules', before: 'alphabet letters; blocked none', after: 'alphabet lower; blocked 40 entries' },
        { name: 'Case-sensitive', before: 'yes', after: 'no' },
      ]),
    )
    expect(sentenceOf(entry({}))).toBe('Changed the slug rules of domain')
  })
})
