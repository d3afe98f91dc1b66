import { mount } from '@vue/test-utils'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import StateMark from '../../app/components/address/StateMark.vue'
import { said, span, spreadWords, STANDING_WORDS } from '../../app/composables/domain-words'
import { visitsADay } from '../../app/composables/visits-a-day'
import type { Case, Domain, ObservationsView, PlanView } from '../../core/schemas'

const save = vi.fn()
const store = { domain: { id: 3, version: 5, registrar: 'Old', yearlyPrice: 10 } as unknown as Domain, save }
const tell = vi.fn()
// What Nuxt would import by itself.
vi.stubGlobal('useDomainStore', () => store)
vi.stubGlobal('useNotice', () => ({ tell }))
vi.stubGlobal('useSessionStore', () => ({
  session: undefined,
  holdForms: () => undefined,
  may: (role: string) => role !== 'administrator' || administrator,
}))
vi.stubGlobal('useMoments', () => ({ short: (iso: string) => iso, exact: (iso: string) => iso }))
let administrator = true
const { default: RecordMatrix } = await import('../../app/components/domain/RecordMatrix.vue')
const { default: CaseList } = await import('../../app/components/docket/CaseList.vue')
const { default: CaseRow } = await import('../../app/components/docket/CaseRow.vue')
const { default: RemedyList } = await import('../../app/components/docket/RemedyList.vue')
const { default: CaseView } = await import('../../app/components/docket/CaseView.vue')
const global = {
  components: { StateMark, CaseRow, RemedyList },
  stubs: { NuxtLink: { template: '<a><slot /></a>' }, VSpacer: true },
}

beforeEach(() => {
  administrator = true
  save.mockReset()
  tell.mockReset()
  store.domain = { id: 3, version: 5, registrar: 'Old', yearlyPrice: 10 } as unknown as Domain
})

describe('words', () => {
  it.each([
    [0, '0 s'],
    [99_000, '99 s'],
    [100_000, '2 min'],
    [3_600_000, '60 min'],
    [7_200_000, '2 h'],
    [-5, '0 s'],
  ])('%i ms is %s', (milliseconds, words) => expect(span(milliseconds)).toBe(words))
  it('count the resolvers that answer', () =>
    expect(spreadWords([{ state: 'new' }, { state: 'old' }, { state: 'silent' }, { state: 'absent' }])).toBe(
      '1 of 3 resolvers see the new address',
    ))
  it('say what a server said', () => {
    expect(said(undefined)).toBe('not asked')
    expect(said({ status: 'answered', data: ['a', 'b'] } as ObservationsView['items'][number])).toBe('a, b')
    expect(said({ status: 'none', data: [] } as unknown as ObservationsView['items'][number])).toBe('none')
  })
  it('have a mark for every standing', () =>
    expect(new Set(Object.values(STANDING_WORDS).map(({ mark }) => mark))).toEqual(
      new Set(['idle', 'doubtful', 'sound', 'broken']),
    ))
  it.each([
    [0, '0'],
    [0.4, '0.4'],
    [12.6, '13'],
    [1234.2, '1,234'],
  ])('%d visits a day are %s', (visits, words) => expect(visitsADay(visits)).toBe(words))
})

describe('the matrix', () => {
  const plan = {
    origin: 'rider.example',
    records: [
      {
        name: 'rider.example',
        type: 'A',
        ttl: 3600,
        data: '192.0.2.80',
        forms: { relative: '@', plain: '', absolute: '' },
      },
    ],
  } as unknown as PlanView
  const item = (server: string, more: object) => ({
    role: 'resolver',
    server,
    name: 'rider.example',
    type: 'A',
    status: 'answered',
    data: ['192.0.2.80'],
    ttl: 60,
    sight: 'new',
    firstAt: '',
    lastAt: '',
    lapsesAt: null,
    ...more,
  })
  const observations = {
    wanted: [{ name: 'rider.example', type: 'A', data: ['192.0.2.80'] }],
    servers: [
      { role: 'authority', server: 'ns1.rider.example' },
      { role: 'resolver', server: 'A' },
      { role: 'resolver', server: 'B' },
    ],
    items: [
      item('A', {}),
      item('B', { data: ['198.51.100.7'], sight: 'old', lapsesAt: new Date(600_000).toISOString() }),
    ],
  } as unknown as ObservationsView
  const matrix = (now: number) => mount(RecordMatrix, { props: { plan, observations, now }, global })
  it('shows each server’s answer beside what is needed, in words too', () => {
    const cells = matrix(0).findAll('td.cell')
    expect(cells.map((cell) => cell.text())).toEqual([
      '·',
      expect.stringContaining('192.0.2.80, as needed'),
      expect.stringMatching(/198\.51\.100\.7.*the old answer.*10 min left/),
    ])
    expect(cells.map((cell) => cell.classes().at(-1))).toEqual(['cell', 'new', 'old'])
    expect(
      matrix(0)
        .findAll('thead th')
        .map((head) => head.text()),
    ).toEqual(['Name', 'Type', 'Needed', 'ns1', 'A', 'B'])
  })
  it('counts down, and stops when the answer must have lapsed', () => {
    expect(matrix(540_000).text()).toContain('60 s left')
    expect(matrix(600_001).text()).not.toContain('left')
  })
})

describe('the docket', () => {
  const found = (more: Partial<Case>): Case => ({
    id: 1,
    lane: 'domains',
    kind: 'record-gone',
    name: 'rider.example',
    subject: 'x',
    domain: { id: 3, host: 'rider.example' },
    severity: 'broken',
    headline: 'The A record is gone',
    sentence: 'Gone.',
    evidence: [{ label: 'ns1', text: 'A none', state: 'broken' }],
    impact: 12.4,
    together: 1,
    others: [],
    affected: '12 visits a day go through rider.example',
    urgency: 12.4,
    reckoning: '12 visits a day × 100% affected × now = urgency 12',
    remark: false,
    state: 'open',
    setAsideUntil: null,
    reason: '',
    settledBy: null,
    kept: false,
    links: [],
    rules: [],
    subjects: [{ label: 'rider.example', to: '/domains/3' }],
    openedAt: 'then',
    reopenedAt: null,
    settledAt: null,
    seenAt: 'now',
    version: 1,
    remedies: [
      {
        id: 'by-hand',
        title: 'By hand',
        sentence: 'Place it.',
        verified: '',
        verifiedAt: null,
        applies: false,
        undoable: false,
        to: '/domains/3',
        records: [],
        asks: [],
        scopes: [],
        destination: null,
        proposed: null,
        visitsKept: 12.4,
      },
      {
        id: 'put-back',
        title: 'Put it back',
        sentence: 'Pushed.',
        verified: 'Looked up.',
        verifiedAt: null,
        applies: true,
        undoable: true,
        to: null,
        records: [{ name: 'rider.example', type: 'A', ttl: 60, data: '192.0.2.80' }],
        asks: [],
        scopes: [],
        destination: null,
        proposed: null,
        visitsKept: 12.4,
      },
    ],
    ...more,
  })
  it('keeps the order it is given, folds remarks away by lane, and marks the case in hand', async () => {
    const list = mount(CaseList, {
      props: {
        cases: [found({ id: 2, lane: 'dates' }), found({})],
        remarks: [found({ id: 3, lane: 'conflicts', remark: true }), found({ id: 4, lane: 'conflicts', remark: true })],
        selected: 1,
      },
      global,
    })
    expect(list.findAll('summary').map((fold) => fold.text())).toEqual([
      expect.stringContaining('2 remarks in Conflicts'),
    ])
    expect(list.findAll('[aria-current]').map((row) => row.text())).toEqual([expect.stringContaining('rider.example')])
    expect(list.get('.impact').attributes('title')).toContain('= urgency 12')
    await list.findAll('button')[0]!.trigger('click')
    expect(list.emitted('select')).toMatchObject([[{ id: 2 }]])
  })
  it('has the first remedy that can be applied in hand, and applies that', async () => {
    const view = mount(CaseView, { props: { found: found({}), place: '1 of 3' }, global })
    expect((view.find('input:checked').element as HTMLInputElement).value).toBe('put-back')
    expect(view.text()).toContain('rider.example 60 A 192.0.2.80')
    ;(view.vm as unknown as { apply(): void }).apply()
    expect(view.emitted('apply')).toEqual([['put-back', {}]])
    // One that is done elsewhere is gone to: the key is never silent.
    const navigateTo = vi.fn()
    vi.stubGlobal('navigateTo', navigateTo)
    await view.findAll('input')[0]!.setValue()
    ;(view.vm as unknown as { apply(): void }).apply()
    expect(view.emitted('apply')).toHaveLength(1)
    expect(navigateTo).toHaveBeenCalledTimes(1)
  })
  it('lets only an administrator apply, and nobody touch what is settled', () => {
    administrator = false
    const labels = (given: Case) =>
      mount(CaseView, { props: { found: given, place: '' }, global })
        .findAll('.v-btn')
        .map((button) => button.text())
    expect(labels(found({}))).toEqual([expect.stringContaining('Set aside')])
    administrator = true
    expect(labels(found({ state: 'settled', settledBy: 'itself', settledAt: 'late', remedies: [] }))).toEqual([])
    expect(labels(found({ state: 'set-aside', setAsideUntil: 'soon' }))).toEqual([
      expect.stringContaining('Apply'),
      'Reopen',
    ])
  })
})
