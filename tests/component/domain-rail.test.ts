import { mount } from '@vue/test-utils'
import { ref } from 'vue'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import DomainRail from '../../app/components/domain/DomainRail.vue'
import StateMark from '../../app/components/address/StateMark.vue'
import TraceComparison from '../../app/components/trace/TraceComparison.vue'
import type { Domain, DomainSections, Trace } from '../../core/schemas'

const isPhone = ref(false)
const store = { sections: [] as DomainSections['items'], forecast: undefined }
vi.stubGlobal('useDomainStore', () => store)
vi.stubGlobal('useDomainsStore', () => ({ loaded: true, domains: [{ id: 1 }, { id: 2 }] }))
vi.stubGlobal('useScreen', () => ({ isPhone }))
const NuxtLink = { props: ['to'], template: '<a :data-to="JSON.stringify(to)"><slot /></a>' }
const VBtn = { props: ['to', 'variant'], template: '<button :data-to="JSON.stringify(to)"><slot /></button>' }
const global = { components: { NuxtLink, StateMark, VBtn }, stubs: { VMenu: true } }
const domain = (more: Partial<Domain> = {}) =>
  ({ id: 1, shown: 'ansl.example', standing: 'open', cases: 0, links: 868, next: '', ...more }) as Domain
const rail = (more: Partial<Domain>, section = 'records') =>
  mount(DomainRail, { global, props: { domain: domain(more), section } })

beforeEach(() => {
  isPhone.value = false
  store.sections = [
    { section: 'records', state: 'sound', text: '3 of 3 seen' },
    { section: 'rules', state: 'doubtful', text: '2 of 9 never apply' },
  ]
})

describe('the sections of a domain', () => {
  it('say their state in words, and mark what is not sound', () => {
    const links = rail({}).findAll('nav a')
    expect(links).toHaveLength(8)
    expect(links[0]!.text()).toBe('Records 3 of 3 seen')
    expect(links[0]!.attributes('aria-current')).toBe('page')
    expect(links[0]!.find('[role=img]').exists()).toBe(false)
    expect(links[2]!.get('[role=img]').attributes('aria-label')).toBe('doubtful')
    expect(JSON.parse(links[2]!.attributes('data-to')!)).toEqual({ query: { tab: 'rules' } })
  })
  it('lead to what is next: the docket, the plan, or nothing to do but wait', () => {
    const cases = rail({ cases: 2, next: 'Settle 2 cases', nextAt: 'docket' })
    expect(JSON.parse(cases.get('button').attributes('data-to')!)).toMatchObject({ path: '/docket' })
    expect(cases.text()).toContain('2 cases on the docket')
    const open = rail({ standing: 'spreading', next: 'Open it for 21 waiting links', nextAt: 'records' }, 'rules')
    expect(JSON.parse(open.get('button').attributes('data-to')!)).toEqual({ query: {} })
    const wait = rail({ standing: 'spreading', next: 'Wait for DNS caches to expire', nextAt: null })
    expect(wait.find('button').exists()).toBe(false)
    expect(wait.text()).toContain('Next: Wait for DNS caches to expire')
    expect(rail({}).find('button').exists()).toBe(false)
  })
  it('fold on a phone, with the one at hand named', () => {
    isPhone.value = true
    const summary = rail({}, 'rules').get('details > summary')
    expect(summary.text()).toContain('Rules')
    expect(summary.text()).toContain('2 of 9 never apply')
  })
})

describe('two answers compared', () => {
  const trace = (status: number, location: string | null, found: string) =>
    ({ status, location, steps: [{ name: 'Found', value: found }], verdict: { sentence: 'x' } }) as unknown as Trace
  const told = (a: Trace, b: Trace) =>
    mount(TraceComparison, { global, props: { traces: [a, b], names: ['Now', 'Mon 7 Dec'] } })
  it('are the same, or differ in what is named', () => {
    const one = trace(302, 'https://a.example/', 'ansl.example/a')
    expect(told(one, one).text()).toContain('Both get the same answer.')
    expect(told(one, trace(302, 'https://b.example/', 'ansl.example/a')).text()).toContain('They differ in location.')
    expect(told(one, trace(410, null, 'ansl.example/b')).text()).toContain(
      'They differ in status, location and answered by.',
    )
  })
})
