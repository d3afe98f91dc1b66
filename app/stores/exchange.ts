import { defineStore } from 'pinia'
import type {
  Intake,
  LogReplay,
  IntakeOptions,
  IntakePatch,
  IntakeRow,
  IntakeRowsPatch,
  IntakeRowsQuery,
} from '~~/core/schemas'

export type IntakeFilter = IntakeRowsQuery['kind']

const LOOK_MS = 500
/** Rows read at a time. */
const PAGE = 200
let looking: ReturnType<typeof setTimeout> | undefined
// Counts the questions asked, so that an older answer never replaces a newer one.
let asked = 0

/** Imports: files that are read, decided row by row and applied. */
export const useExchangeStore = defineStore('exchange', {
  state: () => ({
    items: [] as Intake[],
    current: undefined as Intake | undefined,
    rows: [] as IntakeRow[],
    next: null as string | null,
    filter: undefined as IntakeFilter,
    loading: false,
    problem: '',
  }),
  getters: {
    isOpen: ({ current }) => current?.state === 'ready',
  },
  actions: {
    async list() {
      this.loading = true
      try {
        this.items = (await callApi<{ items: Intake[] }>('/imports')).items
        this.problem = ''
      } catch (error) {
        this.problem = (error as Error).message
      } finally {
        this.loading = false
      }
    },
    /** Sends a file; what is to be said of it beside its octets goes with it. */
    bring: (file: Blob, about: { name: string; domain: string; everyHost?: '1' }) =>
      callApi<Intake>('/imports', { method: 'POST', body: file, type: 'application/octet-stream', query: about }),
    /** Has a file fetched that lies on a server. */
    fetchFrom: (address: string, domain: string) =>
      callApi<Intake>('/imports/fetch', { method: 'POST', body: { address, domain } }),
    /** Asks a colleague to look at a file. */
    ask: (id: number, body: { colleague: string; note: string }) =>
      callApi(`/imports/${id}/ask`, { method: 'POST', body }),
    /** Opens a file and follows it while it is read and checked. */
    async open(id: number) {
      clearTimeout(looking)
      if (this.current?.id !== id) Object.assign(this, { current: undefined, rows: [], next: null, filter: undefined })
      await this.look(id)
    },
    close() {
      clearTimeout(looking)
    },
    async look(id: number) {
      const before = this.current
      try {
        const now = await callApi<Intake>(`/imports/${id}`)
        this.current = now
        this.problem = ''
        const settled = now.state !== 'reading'
        // For a file that was imported before, the differences are shown first.
        if (settled && now.follows && before?.state !== now.state && now.state === 'ready') this.filter ??= 'differs'
        const moved = before?.state !== now.state || before.checks.done !== now.checks.done
        // Rows loaded by scrolling stay, and so does the scroll position.
        if (settled && moved && (this.rows.length <= PAGE || before?.state !== now.state))
          await this.listRows(this.filter)
        const checking = now.state === 'ready' && now.checks.done < now.checks.total
        if (!settled || checking || now.state === 'applying')
          looking = setTimeout(() => void this.look(id), settled ? LOOK_MS * 4 : LOOK_MS)
      } catch (error) {
        this.problem = (error as Error).message
      }
    },
    async listRows(filter: IntakeFilter) {
      const mine = ++asked
      this.filter = filter
      const id = this.current?.id
      if (id === undefined) return
      const page = await callApi<{ items: IntakeRow[]; next: string | null }>(`/imports/${id}/rows`, {
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
        const page = await callApi<{ items: IntakeRow[]; next: string | null }>(`/imports/${this.current.id}/rows`, {
          query: { kind: this.filter, limit: PAGE, cursor: this.next },
        })
        if (mine !== asked) return
        this.rows.push(...page.items)
        this.next = page.next
      } finally {
        this.loading = false
      }
    },
    async decide(patch: IntakeRowsPatch) {
      if (!this.current) return
      this.current = await callApi<Intake>(`/imports/${this.current.id}/rows`, { method: 'PATCH', body: patch })
      const places = new Set(patch.positions)
      for (const row of this.rows) {
        const isOfCause = patch.cause === undefined || (row.cause === patch.cause && row.kind === 'clash')
        const meant = patch.positions ? places.has(row.position) : row.code === patch.code && isOfCause
        if (meant && (patch.decision === null || row.choices.includes(patch.decision))) row.decision = patch.decision
      }
    },
    async change(patch: IntakePatch) {
      const { id, version } = this.current!
      this.current = await callApi<Intake>(`/imports/${id}`, { method: 'PATCH', body: patch, version })
      await (patch.options ? this.open(id) : this.listRows(this.filter))
    },
    readAgain(options: IntakeOptions) {
      return this.change({ options })
    },
    async apply() {
      const { id, version } = this.current!
      // How far it is shows meanwhile.
      looking = setTimeout(() => void this.look(id), LOOK_MS)
      this.current = await callApi<Intake>(`/imports/${id}/apply`, { method: 'POST', version })
      clearTimeout(looking)
      await this.look(id)
      return this.current
    },
    /** Puts an old server’s log to a file. */
    putLog: (id: number, log: Blob) =>
      callApi<LogReplay>(`/imports/${id}/log`, { method: 'POST', body: log, type: 'application/octet-stream' }),
    /** Stops bringing it in: it is open again as it was. */
    async stop() {
      await callApi(`/imports/${this.current!.id}`, { method: 'DELETE' }).catch(() => undefined)
    },
    async letGo() {
      await callApi(`/imports/${this.current!.id}`, { method: 'DELETE' })
    },
  },
})
