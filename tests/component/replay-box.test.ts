import { flushPromises, mount } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import ReplayBox from '../../app/components/changes/ReplayBox.vue'
import StateMark from '../../app/components/address/StateMark.vue'
import { useReplay } from '../../app/composables/useReplay'
import type { ReplayView } from '../../core/schemas'
import { ApiProblem } from './api-problem'
import { problem } from './problem'

const callApi = vi.fn()
vi.stubGlobal('callApi', callApi)
vi.stubGlobal('useReplay', useReplay)
const global = { components: { StateMark }, stubs: { VSpacer: true, VProgressLinear: true } }
const replay = (id: number, state: 'running' | 'done' = 'done') =>
  ({ id, state, done: 0, total: 9, days: 28, requests: 100 + id, counts: {}, examples: {} }) as unknown as ReplayView
const posts = () => callApi.mock.calls.filter(([, { method } = { method: 'GET' }]) => method === 'POST')
const asks = (tag: string) => ({ rules: { domain: 'ansl.example', items: [], tag } as never })

beforeEach(() => {
  vi.useFakeTimers()
  callApi.mockReset()
})
afterEach(() => vi.useRealTimers())
const later = async (ms: number) => {
  await vi.advanceTimersByTimeAsync(ms)
  await flushPromises()
}

describe('an automatic replay', () => {
  it('is started once typing pauses, and what was told of something else goes', async () => {
    callApi.mockImplementation((_path: string, { body }: { body: { rules: { tag: string } } }) =>
      Promise.resolve(replay(body.rules.tag.length)),
    )
    const box = mount(ReplayBox, { global, props: { request: asks('a'), auto: true } })
    await later(0)
    expect(box.text()).toContain('101 requests')
    await box.setProps({ request: asks('ab') })
    expect(box.text()).not.toContain('101 requests')
    await box.setProps({ request: asks('abc') })
    await later(1600)
    expect(posts()).toHaveLength(2)
    expect(box.text()).toContain('103 requests')
  })

  it('waits for the one before to end, and stops when nobody looks any more', async () => {
    callApi.mockRejectedValueOnce(new ApiProblem(problem({ status: 429, detail: 'Replays are under way.' })))
    const box = mount(ReplayBox, { global, props: { request: asks('a'), auto: true } })
    await later(0)
    expect(box.text()).toContain('Waiting for another replay to end…')
    callApi.mockResolvedValue(replay(5, 'running'))
    await later(1100)
    expect(box.text()).not.toContain('Waiting')
    box.unmount()
    await later(0)
    expect(callApi).toHaveBeenCalledWith('/replay/5', { method: 'DELETE' })
  })

  it('is started by the button alone where it was not asked to', async () => {
    const box = mount(ReplayBox, { global, props: { request: asks('a') } })
    await box.setProps({ request: asks('b') })
    await later(5000)
    expect(callApi).not.toHaveBeenCalled()
    callApi.mockResolvedValue(replay(1))
    await box.get('button').trigger('click')
    await later(0)
    expect(box.text()).toContain('101 requests')
  })
})
