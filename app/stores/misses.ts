import { defineStore } from 'pinia'
import type { Miss, MissDecision, MissDetail, MissList, Settled } from '~~/core/schemas'

/** What narrows and orders the list. */
export interface MissFilters {
  state: Miss['state']
  domain?: string
  q?: string
  sort?: 'visitors' | 'last' | 'path'
}

/** One decision about one miss, as it is sent. */
export interface MissItem {
  miss: number
  decision: MissDecision
  link?: number
  destination?: string
}

// Counts the questions asked, so that an older answer never replaces a newer one.
let asked = 0

/** Requested addresses that do not exist: listed, read, settled. */
const useMissesStore = defineStore('misses', {
  state: () => ({
    items: [] as Miss[],
    next: null as string | null,
    counts: { open: 0, answered: 0, noise: 0 } as MissList['counts'],
    cut: 0,
    filters: { state: 'open' } as MissFilters,
    current: undefined as MissDetail | undefined,
    loading: false,
    problem: '',
  }),
  actions: {
    async list(filters: MissFilters) {
      const mine = ++asked
      this.filters = filters
      this.loading = true
      try {
        const page = await callApi<MissList>('/misses', { query: { ...filters } })
        if (mine !== asked) return
        this.items = page.items
        this.next = page.next
        this.counts = page.counts
        this.cut = page.cut
        this.problem = ''
      } catch (error) {
        if (mine === asked) this.problem = (error as Error).message
      } finally {
        if (mine === asked) this.loading = false
      }
    },
    async more() {
      if (this.next === null || this.loading) return
      const mine = asked
      this.loading = true
      try {
        const page = await callApi<MissList>('/misses', { query: { ...this.filters, cursor: this.next } })
        if (mine !== asked) return
        this.items.push(...page.items)
        this.next = page.next
      } finally {
        this.loading = false
      }
    },
    async read(id: number) {
      this.current = await callApi<MissDetail>(`/misses/${id}`)
      return this.current
    },
    preview: (items: MissItem[]) =>
      callApi<Settled>('/misses/settle', { method: 'POST', body: { items, preview: true } }),
    settle: (items: MissItem[], reason: string) =>
      callApi<Settled>('/misses/settle', { method: 'POST', body: { items, ...(reason && { reason }) } }),
    async told(id: number, page: string) {
      await callApi(`/misses/${id}/told`, { method: 'POST', body: { page } })
      await this.read(id)
    },
  },
})

export { useMissesStore }
