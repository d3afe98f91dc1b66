import { flushPromises, mount } from '@vue/test-utils'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { h } from 'vue'
import ConflictNotice from '../../app/components/rules/ConflictNotice.vue'
import RuleBench from '../../app/components/rules/RuleBench.vue'
import ScanBar from '../../app/components/docket/ScanBar.vue'
import SlugAdvice from '../../app/components/link/SlugAdvice.vue'
import RedirectChip from '../../app/components/address/RedirectChip.vue'
import StateMark from '../../app/components/address/StateMark.vue'
import { useConflicts } from '../../app/composables/useConflicts'
import type { ConflictScan, ConflictView, SlugCheck } from '../../core/schemas'
import { ApiProblem } from './api-problem'
import { problem } from './problem'

const test = vi.fn()
const docket = {
  scan: undefined as ConflictScan | undefined,
  readScan: vi.fn().mockResolvedValue(undefined),
  startScan: vi.fn().mockResolvedValue(undefined),
  cancelScan: vi.fn(),
}
vi.stubGlobal('useRulesStore', () => ({ test }))
vi.stubGlobal('useDocketStore', () => docket)
vi.stubGlobal('useSessionStore', () => ({ may: () => true }))
vi.stubGlobal('useMoments', () => ({ short: () => 'just now' }))
vi.stubGlobal('useNotice', () => ({ tell: vi.fn() }))
const NuxtLink = {
  props: ['to'],
  setup:
    (_: unknown, { slots }: { slots: { default?: () => unknown } }) =>
    () =>
      h('a', slots.default?.() as never),
}
const global = {
  components: { StateMark, RedirectChip, NuxtLink },
  stubs: { VTextarea: true, VAlert: { template: '<div class="alert"><slot /></div>' }, VProgressLinear: true },
}

const conflict = (more: Partial<ConflictView> = {}): ConflictView => ({
  key: 'one-slip 1 2',
  kind: 'one-slip',
  subject: 'a and b',
  severity: 'doubtful',
  headline: 'One typing error apart',
  sentence: 'They differ by one slip.',
  impact: 8.8,
  witness: null,
  ...more,
})

describe('a refusal for conflicts', () => {
  it('is told conflict by conflict, with the address that shows it', () => {
    const notice = mount(ConflictNotice, {
      global,
      props: {
        conflicts: [
          conflict(),
          conflict({
            key: 'hidden rule 3',
            headline: 'Rule never applies',
            witness: 'ansl.example/a/b',
            impact: 0,
          }),
        ],
        reason: '',
      },
    })
    expect(notice.get('h2').text()).toBe('This would be in 2 conflicts')
    expect(notice.text()).toContain('One typing error apart. They differ by one slip. 8.8 visits a day.')
    expect(notice.get('a').text()).toBe('ansl.example/a/b')
    expect(notice.text()).not.toContain('0 visits a day')
  })
  it('leaves the address that shows it apart from its visits', () => {
    const notice = mount(ConflictNotice, {
      global,
      props: { conflicts: [conflict({ witness: 'ansl.example/a.pdf', impact: 2.7 })], reason: '' },
    })
    expect(notice.text()).toContain('See ansl.example/a.pdf. 2.7 visits a day.')
  })
  it('is taken in from the problem, and nothing else is', () => {
    const { conflicts, take, clear } = useConflicts()
    expect(take(new Error('x'))).toBe(false)
    expect(take(new ApiProblem(problem({ status: 409, detail: 'taken' })))).toBe(false)
    expect(take(new ApiProblem(problem({ status: 409, detail: 'x', conflicts: [conflict()] })))).toBe(true)
    expect(conflicts.value).toHaveLength(1)
    clear()
    expect(conflicts.value).toEqual([])
  })
  it('asks for no reason where none would help, and drops what was asked before', () => {
    const { conflicts, take } = useConflicts()
    take(new ApiProblem(problem({ status: 409, detail: 'x', conflicts: [conflict()] })))
    expect(
      take(
        new ApiProblem(
          problem({ status: 422, detail: 'It leads in a circle.', conflicts: [conflict({ kind: 'loop' })] }),
        ),
      ),
    ).toBe(false)
    expect(conflicts.value).toEqual([])
  })
})

describe('advice on a slug', () => {
  const check: SlugCheck = {
    state: 'free',
    reasons: [],
    link: null,
    similar: [
      { id: 1, address: 'ansl.example/winter', destination: 'https://w.example/', how: 'one-slip', visits28: 1266 },
      { id: 2, address: 'ansl.example/wlnter', destination: 'https://w.example/', how: 'looks-alike', visits28: 1 },
    ],
    suggestions: [{ slug: 'market', score: 0.9 }],
    shape: [{ kind: 'doubled', sentence: 'Doubled: “rr” is often typed once.' }],
    spoken: 'Whiskey India',
    rule: { id: 1, pattern: '/w*', location: 'https://w.example/' },
    random: 'k7mnp2q',
  }
  it('tells neighbours, shape, spelling, the rule that serves it, and what would do', async () => {
    const advice = mount(SlugAdvice, { global, props: { check, current: true } })
    for (const text of [
      'One typing error from ansl.example/winter (1,266 visits in 28 days)',
      'Looks like ansl.example/wlnter (1 visit in 28 days)',
      'Doubled',
      'Spoken form: Whiskey India',
      'The rule /w* matches this address today',
    ])
      expect(advice.text()).toContain(text)
    const [offer, random] = advice.findAll('button')
    await offer!.trigger('click')
    await random!.trigger('click')
    expect(advice.emitted('take')).toEqual([['market'], ['k7mnp2q']])
  })
  it('says nothing of a slug that is not in the field any more', () =>
    expect(mount(SlugAdvice, { global, props: { check, current: false } }).text()).not.toContain('Spoken form'))
})

describe('the test bench', () => {
  beforeEach(() => test.mockReset())
  it('asks for drafts that are filled in only, and tells which rule answers', async () => {
    test.mockResolvedValue({
      faults: [],
      items: [
        { address: '/a', status: 302, location: 'https://x.example/', by: 'rule', rule: 2, link: null, sentence: '' },
        {
          address: '/b',
          status: 404,
          location: null,
          by: 'none',
          rule: null,
          link: null,
          sentence: 'No link or rule has this address.',
        },
      ],
    })
    const bench = mount(RuleBench, {
      global,
      props: {
        domain: 'ansl.example',
        drafts: [
          { pattern: '/a', destination: '' },
          { pattern: '/b', destination: 'https://x.example/' },
        ],
        mine: 2,
      },
    })
    await flushPromises()
    expect(test).toHaveBeenCalledWith(
      {
        domain: 'ansl.example',
        rules: [{ pattern: '/b', destination: 'https://x.example/' }],
        addresses: ['/'],
        acceptLanguage: '',
      },
      expect.anything(),
    )
    expect(bench.text()).toContain('this rule')
    expect(bench.text()).toContain('No link or rule has this address.')
  })
  it('asks for a visitor’s languages where a rule goes by them, and only there', async () => {
    test.mockResolvedValue({ faults: [], items: [] })
    const rule = { pattern: '/a', destination: 'https://x.example/' }
    const bench = mount(RuleBench, { global, props: { domain: 'ansl.example', drafts: [rule], mine: 1 } })
    expect(bench.findAll('input')).toHaveLength(0)
    await bench.setProps({ drafts: [{ ...rule, condition: [{ kind: 'language', languages: ['pt'] }] }] })
    await bench.get('input').setValue('pt-PT, en;q=0.5')
    await vi.waitFor(() =>
      expect(test).toHaveBeenLastCalledWith(
        expect.objectContaining({ acceptLanguage: 'pt-PT, en;q=0.5' }),
        expect.anything(),
      ),
    )
  })
  it('tells what is wrong with the rule in hand', async () => {
    test.mockResolvedValue({ faults: [{ rule: 1, sentence: 'A “(” is not closed.' }], items: [] })
    const bench = mount(RuleBench, {
      global,
      props: { domain: 'ansl.example', drafts: [{ pattern: '/(', destination: 'https://x.example/' }], mine: 1 },
    })
    await flushPromises()
    expect(bench.get('.alert').text()).toBe('A “(” is not closed.')
  })
})

describe('the scan', () => {
  const scan = (more: Partial<ConflictScan>): ConflictScan => ({
    id: 1,
    state: 'running',
    phase: 'slips',
    done: 400,
    total: 1208,
    found: {},
    askedBy: 'x',
    askedAt: 'then',
    beganAt: null,
    endedAt: null,
    error: null,
    ...more,
  })
  it.each<[Partial<ConflictScan> | undefined, string, string]>([
    [undefined, 'Conflicts are updated after every change', 'Scan for conflicts'],
    [{ state: 'queued' }, 'Scan queued', 'Stop'],
    [{}, 'Scanning: comparing typing errors, 400 of 1,208', 'Stop'],
    [
      { state: 'done', done: 1208, endedAt: 'x', found: { twins: 2, loop: 1 } },
      'Scanned 1,208 addresses, just now: 3 conflicts.',
      'Scan for conflicts',
    ],
    [{ state: 'done', endedAt: 'x', found: {} }, 'no conflict', 'Scan for conflicts'],
    [{ state: 'cancelled', endedAt: 'x' }, 'Scan cancelled', 'Scan for conflicts'],
    [{ state: 'failed', endedAt: 'x', error: 'gone' }, 'failed, just now: gone', 'Scan for conflicts'],
  ])('%j is told', (state, told, button) => {
    docket.scan = state && scan(state)
    const bar = mount(ScanBar, { global })
    expect(bar.text()).toContain(told)
    expect(bar.get('button').text()).toBe(button)
    bar.unmount()
  })
})
