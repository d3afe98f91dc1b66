import { defineStore } from 'pinia'
import type { Link, RegisterFilters } from '~~/core/schemas'

export interface Counts {
  total: number
  domains: { host: string; links: number }[]
  standings: Record<string, number>
  redirects: { temporary: number; permanent: number }
  targets: { sound: number; doubtful: number; broken: number; unknown: number }
  tags: { name: string; links: number }[]
  owners: { name: string; links: number }[]
  views: { faulty: number; ending: number; never: number; waiting: number }
}

let asking: AbortController | undefined

const useRegisterStore = defineStore('register', {
  state: () => ({
    filters: {} as RegisterFilters,
    items: [] as Link[],
    next: null as string | null,
    /** Links similar to a search that found few, most similar first. */
    similar: [] as Link[],
    counts: undefined as Counts | undefined,
    /** Of all links of the organisation, whatever the filters. */
    overall: undefined as Counts | undefined,
    loading: false,
    problem: '',
    /** Where the list was left, for coming back: its address, how far it was scrolled, and what was selected. */
    left: { path: '/register', scroll: 0 },
    picked: new Set<number>() as ReadonlySet<number>,
  }),
  actions: {
    /** Lists from the start under these filters; an older question still under way is dropped. */
    async list(filters: RegisterFilters) {
      asking?.abort()
      const mine = (asking = new AbortController())
      // What is shown already stays until its successor is here, and as long as it was.
      const again = JSON.stringify(filters) === JSON.stringify(this.filters) && this.items.length > 0
      const limit = again ? Math.min(200, Math.max(50, this.items.length)) : 50
      this.filters = filters
      this.loading = true
      this.problem = ''
      const { sort: _sort, ...narrowing } = filters
      try {
        // Rows are shown as soon as they come; counting all may take longer.
        const counting = callApi<Counts>('/links/counts', { query: narrowing, signal: mine.signal })
        counting.catch(() => undefined)
        const page = await callApi<{ items: Link[]; next: string | null; similar?: Link[] }>('/links', {
          query: { ...filters, limit },
          signal: mine.signal,
        })
        if (mine.signal.aborted) return
        this.items = page.items
        this.next = page.next
        this.similar = page.similar ?? []
        this.loading = false
        const counts = await counting
        if (mine.signal.aborted) return
        this.counts = counts
        if (Object.values(narrowing).every((value) => !value)) this.overall = counts
        else if (!this.overall) void this.loadOverall()
      } catch (error) {
        if (!mine.signal.aborted) this.problem = (error as Error).message
      } finally {
        if (!mine.signal.aborted) this.loading = false
      }
    },
    /** The next page, after those shown. */
    async more() {
      if (this.next === null || this.loading) return
      this.loading = true
      const mine = asking
      try {
        const page = await callApi<{ items: Link[]; next: string | null }>('/links', {
          query: { ...this.filters, cursor: this.next },
        })
        if (asking !== mine) return
        const known = new Set(this.items.map((link) => link.id))
        this.items.push(...page.items.filter((link) => !known.has(link.id)))
        this.next = page.next
      } catch (error) {
        this.problem = (error as Error).message
      } finally {
        if (asking === mine) this.loading = false
      }
    },
    /** Reads the rows shown anew, in their places, without a word: somebody changed something. */
    async refreshShown() {
      const mine = asking
      if (this.loading || this.items.length > 50) return
      const page = await callApi<{ items: Link[] }>('/links', { query: this.filters }).catch(() => undefined)
      if (!page || asking !== mine || this.loading) return
      const fresh = new Map(page.items.map((link) => [link.id, link]))
      this.items = this.items.map((link) => fresh.get(link.id) ?? link)
      // What is new, or stands elsewhere now, comes with it.
      if (page.items.length === this.items.length) this.items = page.items
    },
    /** Visits that came, put to the rows they are of. */
    visited(counts: Record<number, number>) {
      for (const link of this.items) {
        const came = counts[link.id]
        if (came === undefined) continue
        link.visits28 += came
        if (link.daily?.length) link.daily = link.daily.with(-1, link.daily.at(-1)! + came)
      }
    },
    async loadOverall() {
      this.overall = await callApi<Counts>('/links/counts')
    },
    /** Puts a changed link in its row, and refreshes the figures. */
    async changed(link: Link) {
      const index = this.items.findIndex((item) => item.id === link.id)
      if (index !== -1)
        this.items[index] = { ...this.items[index], ...link, daily: link.daily ?? this.items[index]!.daily }
      const { sort: _sort, ...narrowing } = this.filters
      this.counts = await callApi<Counts>('/links/counts', { query: narrowing }).catch(() => this.counts)
    },
  },
})

export { useRegisterStore }
