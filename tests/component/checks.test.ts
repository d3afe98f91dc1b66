import { flushPromises, mount } from '@vue/test-utils'
import { VProgressLinear } from 'vuetify/components'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { reactive } from 'vue'
import type { CheckPreview, CheckRun } from '../../core/schemas'

const preview = vi.fn()
const checks = reactive({
  run: undefined as CheckRun | undefined,
  problem: '',
  get running() {
    return this.run?.state === 'running'
  },
  cancel: vi.fn(),
  putAway: vi.fn(),
  preview,
})
vi.stubGlobal('useChecksStore', () => checks)
vi.stubGlobal('useMoments', () => ({ short: (iso: string) => iso, exact: (iso: string) => iso, zone: () => 'UTC' }))
const { default: CheckBar } = await import('../../app/components/checks/CheckBar.vue')
const { default: CheckStrip } = await import('../../app/components/checks/CheckStrip.vue')
const { default: DestinationCheck } = await import('../../app/components/checks/DestinationCheck.vue')
const { default: StateMark } = await import('../../app/components/address/StateMark.vue')
const global = { components: { StateMark, VProgressLinear } }

const run = (more: Partial<CheckRun>): CheckRun => ({
  id: 1,
  total: 1200,
  done: 30,
  state: 'running',
  counts: { sound: 28, doubtful: 0, broken: 2 },
  askedBy: 'Ines',
  askedAt: 'then',
  endedAt: null,
  pausedSince: null,
  ...more,
})

describe('how far checks are', () => {
  const told = (more: Partial<CheckRun> | undefined, problem = '') => {
    Object.assign(checks, { run: more && run(more), problem })
    return mount(CheckBar, { global }).text()
  }
  it.each([
    [{}, 'Checking: 30 of 1,200 destinations: 28 sound, 2 broken. Rate limits per host apply.'],
    [{ state: 'done', done: 1200 }, 'Checked 1,200 of 1,200 destinations: 28 sound, 2 broken.'],
    [{ state: 'cancelled' }, 'Stopped after 30 of 1,200 destinations: 28 sound, 2 broken.'],
    [{ state: 'done', total: 0, done: 0 }, 'Nothing to check: none of these links is live or scheduled.'],
    [{ pausedSince: 'noon' }, 'Paused since noon: this machine itself seems cut off, so nobody is called broken.'],
  ] as const)('%o', (more, sentence) => expect(told(more)).toContain(sentence))
  it('says why they could not be asked for, and nothing where nobody asked', () => {
    expect(told(undefined, 'No answer.')).toContain('No answer.')
    expect(told(undefined)).toBe('')
  })
})

describe('the destination of a link that is being made', () => {
  const seen = (more: Partial<CheckPreview>): CheckPreview => ({
    verdict: 'sound',
    confidence: 'sound',
    sentence: 'Answers 200 in 12 ms.',
    final: 'https://a.example/x',
    title: 'A page',
    card: null,
    frames: { allowed: true, field: '' },
    hops: [],
    facts: [],
    ...more,
  })
  beforeEach(() => {
    vi.useFakeTimers()
    preview.mockReset()
  })
  async function shown(props: { destination: string; known?: string; title?: string }) {
    const view = mount(DestinationCheck, { props, global })
    await view.setProps({ destination: `${props.destination} ` })
    await view.setProps(props)
    await vi.advanceTimersByTimeAsync(800)
    await flushPromises()
    vi.useRealTimers()
    return view
  }
  it('is told in one sentence, with its title to take over', async () => {
    preview.mockResolvedValue(seen({ final: 'https://a.example/y', frames: { allowed: false, field: 'x' } }))
    const view = await shown({ destination: 'https://a.example/x' })
    expect(view.text()).toContain('Answers 200 in 12 ms. Ends at https://a.example/y. Cannot be shown in a frame.')
    await view.get('.v-btn').trigger('click')
    expect(view.emitted('title')).toEqual([['A page']])
  })
  it('has no title to offer where something else stands in its place', async () => {
    preview.mockResolvedValue(seen({ verdict: 'sign-in', confidence: 'broken', sentence: 'Only signed-in people.' }))
    const view = await shown({ destination: 'https://a.example/x' })
    expect(view.text()).toContain('Only signed-in people.')
    expect(view.find('.v-btn').exists()).toBe(false)
  })
  it('is not asked while it is none, nor where it is the link’s own already', async () => {
    await shown({ destination: 'nonsense' })
    vi.useFakeTimers()
    await shown({ destination: 'https://a.example/x', known: 'https://a.example/x' })
    expect(preview).not.toHaveBeenCalled()
  })
  it('says why it could not be asked', async () => {
    preview.mockRejectedValue(new Error('At most 40 destinations a minute.'))
    expect((await shown({ destination: 'https://a.example/x' })).text()).toContain('At most 40 destinations a minute.')
  })
})

describe('the strip of checks', () => {
  it('has visits, health and changes on one line, told in words as well', () => {
    const at = new Date().toISOString()
    const check = {
      id: 1,
      at,
      verdict: 'sound' as const,
      failed: false,
      sentence: '',
      milliseconds: 1,
      hops: [],
      facts: [],
    }
    const strip = mount(CheckStrip, {
      props: {
        days: [1, 2, 3],
        checks: [check, { ...check, id: 2, failed: true }],
        history: [{ at, action: 'change-destination', before: {}, after: {} } as never],
        placements: [{ placedOn: at.slice(0, 10) } as never, { placedOn: null } as never],
      },
    })
    expect(strip.get('svg').attributes('aria-label')).toBe(
      '6 visits in 3 days; 1 of 2 checks failed; one change of destination; 1 placed; at most 3 visits on one day',
    )
    expect(strip.findAll('.broken')).toHaveLength(1)
    expect(strip.findAll('.put')).toHaveLength(1)
  })
})
