import { flushPromises, mount } from '@vue/test-utils'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { Miss, MissDetail, Settled } from '../../core/schemas'

const preview = vi.fn<(items: unknown[]) => Promise<Settled>>()
const settle = vi.fn<(items: unknown[], reason: string) => Promise<Settled>>()
vi.stubGlobal('useMissesStore', () => ({ preview, settle }))
vi.stubGlobal('useNotice', () => ({ tell: vi.fn() }))
vi.stubGlobal('useMoments', () => ({ short: (iso: string) => iso, exact: (iso: string) => iso, zone: () => 'UTC' }))
const { default: MissView } = await import('../../app/components/misses/MissView.vue')
const { default: SettleDialog } = await import('../../app/components/misses/SettleDialog.vue')
const { default: StateMark } = await import('../../app/components/address/StateMark.vue')
const NuxtLink = { props: ['to'], template: '<a :href="to"><slot /></a>' }
const VDialog = { template: '<div><slot /></div>' }
const global = {
  components: { StateMark, NuxtLink },
  stubs: { VDialog, VCard: VDialog, LongAddress: true, LetterDialog: true, ShortAddress: true },
}

const miss = (more: Partial<MissDetail> = {}): MissDetail => ({
  id: 7,
  domain: { id: 1, host: 'ansl.example' },
  path: 'fraes',
  address: 'ansl.example/fraes',
  state: 'open',
  gone: null,
  firstAt: 'then',
  lastAt: 'now',
  requests28: 50,
  visitors28: 43,
  daily: [],
  trend: 'steady',
  noise: null,
  ranking: {
    none: 0.02,
    candidates: [
      {
        link: 1,
        slugId: 1,
        domainId: 1,
        canonical: 'fares',
        address: 'ansl.example/fares',
        title: '',
        destination: 'https://www.example/',
        live: true,
        probability: 0.98,
        because: ['two characters swapped'],
      },
    ],
  },
  answeredBy: null,
  caseId: null,
  version: 1,
  referrers: [],
  countries: [{ country: 'PT', requests: 12 }],
  followed: [],
  family: null,
  ...more,
})

describe('one address that was not found', () => {
  const text = (more: Partial<MissDetail>) => mount(MissView, { props: { miss: miss(more) }, global }).text()
  it('tells who asked, what was meant, how sure, and that nothing may match', () => {
    const told = text({})
    expect(told).toContain('43 visitors and 50 requests')
    expect(told).toMatch(/98%ansl\.example\/fares ?two characters swapped/)
    expect(told).toContain('2%no match')
    expect(told).toContain('Countries: PT 12.')
  })
  it('lets nothing hide in what strangers typed', () =>
    expect(text({ address: 'ansl.example/a\u202eb' })).toContain('a\\u{202e}b'))
  it('tells what answers it now, and of noise why', () => {
    expect(
      text({ state: 'answered', answeredBy: { by: 'alias', address: 'ansl.example/fares', at: 'noon', served: 7 } }),
    ).toContain('Answered by ansl.example/fares; 7 visits served since noon.')
    expect(text({ state: 'noise', noise: 'a hidden file' })).toContain('Noise: a hidden file.')
  })
  it('gives a decision on with the link it is about', async () => {
    const view = mount(MissView, { props: { miss: miss() }, global })
    await view
      .findAll('button')
      .find((button) => button.text() === 'Add as a slug')!
      .trigger('click')
    expect(view.emitted('decide')).toEqual([[{ decision: 'alias', link: 1 }]])
  })
})

describe('settling in one go', () => {
  beforeEach(() => {
    preview.mockReset()
    settle.mockReset()
  })
  const told = (id: number, fault: string | null): Settled['items'][number] => ({
    miss: id,
    address: `ansl.example/m${id}`,
    decision: 'alias',
    sentence: fault ? '' : `m${id} now leads on.`,
    visitors28: fault ? 0 : 20,
    fault,
  })
  it('previews each, tells why one cannot, and settles the others alone', async () => {
    preview.mockResolvedValue({ entry: null, items: [told(1, null), told(2, 'The slug is taken.')], visitors28: 20 })
    settle.mockResolvedValue({ entry: 7, items: [told(1, null)], visitors28: 20 })
    const misses = [1, 2].map((id) => miss({ id }) as Miss)
    const dialog = mount(SettleDialog, { props: { modelValue: true, misses }, global })
    await flushPromises()
    expect(dialog.text()).toContain('Would have served 20 visitors in the last 28 days.')
    expect(dialog.text()).toContain('ansl.example/m2: The slug is taken.')
    expect(dialog.text()).toContain('1 cannot be settled so and stays open.')
    await dialog.find('form').trigger('submit')
    await flushPromises()
    expect(settle).toHaveBeenCalledWith([{ miss: 1, decision: 'alias', link: 1 }], '')
    expect(dialog.emitted('done')).toHaveLength(1)
  })
  it('keeps what was typed when it is refused, and says why', async () => {
    preview.mockResolvedValue({ entry: null, items: [told(1, null)], visitors28: 20 })
    settle.mockRejectedValue(new Error('Somebody settled it meanwhile.'))
    const dialog = mount(SettleDialog, { props: { modelValue: true, misses: [miss({ id: 1 }) as Miss] }, global })
    await flushPromises()
    await dialog.find('form').trigger('submit')
    await flushPromises()
    expect(dialog.text()).toContain('Somebody settled it meanwhile.')
    expect(dialog.emitted('done')).toBeUndefined()
  })
})
