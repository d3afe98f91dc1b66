import { defineStore } from 'pinia'
import type { ComparedSubject, Comparison, LedgerEntry, PastAnswer } from '~~/core/schemas'

// Counts the questions asked, so that an older answer never replaces a newer one.
let asked = 0

const useLedgerStore = defineStore('ledger', {
  state: () => ({
    items: [] as LedgerEntry[],
    next: null as string | null,
    query: {} as { q?: string; kind?: string },
    loading: false,
    problem: '',
  }),
  actions: {
    async list(query: { q?: string; kind?: string }) {
      const mine = ++asked
      this.query = query
      this.loading = true
      this.problem = ''
      try {
        const page = await callApi<{ items: LedgerEntry[]; next: string | null }>('/ledger', { query })
        if (mine !== asked) return
        this.items = page.items
        this.next = page.next
      } catch (error) {
        this.problem = (error as Error).message
      } finally {
        this.loading = false
      }
    },
    /** What an address led to at a moment, and who decided that. */
    lookUpPast: (address: string, at: string) => callApi<PastAnswer>('/table', { query: { address, at } }),
    /** What differs in the register between two moments. */
    compare: (from: string, to: string) => callApi<Comparison>('/ledger/compare', { query: { from, to } }),
    /** Brings a link or domain back to what it was at a moment. */
    async restore({ kind, id }: Pick<ComparedSubject, 'kind' | 'id'>, at: string) {
      const path = kind === 'link' ? `/links/${id}` : `/domains/${id}`
      const { version } = await callApi<{ version: number }>(path)
      await callApi(`${path}/restore`, { method: 'POST', version, body: { at } })
      await this.list(this.query)
    },
    async more() {
      if (this.next === null || this.loading) return
      this.loading = true
      try {
        const page = await callApi<{ items: LedgerEntry[]; next: string | null }>('/ledger', {
          query: { ...this.query, cursor: this.next },
        })
        this.items.push(...page.items)
        this.next = page.next
      } finally {
        this.loading = false
      }
    },
    /** Undoes an entry and brings what is shown up to date; a refusal is told, with the choice to overwrite. */
    async undo(entry: Pick<LedgerEntry, 'id' | 'subject'>, overwrite = false) {
      const notice = useNotice()
      try {
        const made = await callApi<LedgerEntry>(`/ledger/${entry.id}/undo`, { method: 'POST', body: { overwrite } })
        const link = useLinkStore()
        if (entry.subject.kind === 'link' && link.link?.id === entry.subject.id) {
          if (made.after === null) link.$reset()
          else await useRegisterStore().changed(await link.read(entry.subject.id))
        }
        if (made.after === null)
          useRegisterStore().items = useRegisterStore().items.filter((item) => item.id !== entry.subject.id)
        await this.list(this.query)
        notice.tell(`Undone: ${entry.subject.label}`)
      } catch (error) {
        const problem = error instanceof ApiProblem ? error.problem : undefined
        if (problem?.status === 409 && problem.later)
          notice.tell(problem.detail, () => this.undo(entry, true), 'Undo anyway')
        else notice.tell((error as Error).message)
      }
    },
  },
})

export { useLedgerStore }
