import { defineStore } from 'pinia'
import type {
  Proposal,
  ProposalCreate,
  ProposalPatch,
  ProposalRow,
  ProposalRowsPatch,
  ProposalRowsQuery,
} from '~~/core/schemas'

export type RowFilter = ProposalRowsQuery['kind']
/** A proposal as it is sent: what the schema fills in may be left out. */
export type ProposalDraft = Pick<ProposalCreate, 'select'> & { change: object; reason?: string }

const LOOK_MS = 600
/** Rows read at a time. */
const PAGE = 200
let looking: ReturnType<typeof setTimeout> | undefined
// Counts the questions asked, so that an older answer never replaces a newer one.
let asked = 0

/** Changes to many links: proposed, looked at, made. */
export const useChangesStore = defineStore('changes', {
  state: () => ({
    items: [] as Proposal[],
    current: undefined as Proposal | undefined,
    rows: [] as ProposalRow[],
    next: null as string | null,
    filter: undefined as RowFilter,
    loading: false,
    problem: '',
  }),
  getters: {
    isOpen: ({ current }) => current !== undefined && ['ready', 'waiting', 'held'].includes(current.state),
  },
  actions: {
    async list() {
      this.loading = true
      try {
        this.items = (await callApi<{ items: Proposal[] }>('/changes')).items
        this.problem = ''
      } catch (error) {
        this.problem = (error as Error).message
      } finally {
        this.loading = false
      }
    },
    propose: (body: ProposalDraft) => callApi<Proposal>('/changes', { method: 'POST', body }),
    /** Opens a proposal and follows it while it is worked out, checked or made. */
    async open(id: number) {
      clearTimeout(looking)
      if (this.current?.id !== id) Object.assign(this, { current: undefined, rows: [], next: null })
      await this.look(id)
    },
    close() {
      clearTimeout(looking)
    },
    async look(id: number) {
      const before = this.current
      try {
        const now = await callApi<Proposal>(`/changes/${id}`)
        this.current = now
        this.problem = ''
        const settled = now.state !== 'computing'
        const moved =
          before?.state !== now.state || before.version !== now.version || before.checks.done !== now.checks.done
        // Rows loaded by scrolling stay, and so does the scroll position.
        if (settled && moved && (this.rows.length <= PAGE || before?.state !== now.state))
          await this.listRows(this.filter)
        const checking = ['ready', 'waiting', 'held'].includes(now.state) && now.checks.done < now.checks.total
        if (!settled || checking || now.state === 'waiting' || now.state === 'applying')
          looking = setTimeout(() => void this.look(id), settled ? LOOK_MS * 3 : LOOK_MS)
      } catch (error) {
        this.problem = (error as Error).message
      }
    },
    async listRows(filter: RowFilter) {
      const mine = ++asked
      this.filter = filter
      const id = this.current?.id
      if (id === undefined) return
      const page = await callApi<{ items: ProposalRow[]; next: string | null }>(`/changes/${id}/rows`, {
        query: { kind: filter, limit: PAGE },
      })
      if (mine !== asked) return
      this.rows = page.items
      this.next = page.next
    },
    async moreRows() {
      if (this.next === null || this.loading || !this.current) return
      const mine = asked
      this.loading = true
      try {
        const page = await callApi<{ items: ProposalRow[]; next: string | null }>(`/changes/${this.current.id}/rows`, {
          query: { kind: this.filter, limit: PAGE, cursor: this.next },
        })
        if (mine !== asked) return
        this.rows.push(...page.items)
        this.next = page.next
      } finally {
        this.loading = false
      }
    },
    async leaveOut(patch: ProposalRowsPatch) {
      if (!this.current) return
      this.current = await callApi<Proposal>(`/changes/${this.current.id}/rows`, { method: 'PATCH', body: patch })
      const places = new Set(patch.positions)
      if (patch.positions) {
        for (const row of this.rows) if (places.has(row.position)) row.leftOut = patch.leftOut
      } else await this.listRows(this.filter)
    },
    async change(patch: ProposalPatch) {
      const { id, version } = this.current!
      this.current = await callApi<Proposal>(`/changes/${id}`, { method: 'PATCH', body: patch, version })
    },
    async again() {
      this.current = await callApi<Proposal>(`/changes/${this.current!.id}/again`, { method: 'POST' })
      await this.look(this.current.id)
    },
    async apply() {
      const { id, version } = this.current!
      this.current = await callApi<Proposal>(`/changes/${id}/apply`, { method: 'POST', version })
      await this.look(id)
      return this.current
    },
    async withdraw() {
      const { id } = this.current!
      await callApi(`/changes/${id}`, { method: 'DELETE' })
      await this.look(id)
    },
  },
})
