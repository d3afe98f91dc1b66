import { defineStore } from 'pinia'
import type {
  Case,
  CaseList,
  ConflictScan,
  LedgerEntry,
  MorningRound,
  RemedyScope,
  RoundApplied,
} from '~~/core/schemas'

/** What a remedy is given when it is applied. */
export interface RemedyGiven {
  reason?: string
  slug?: string
  scope?: RemedyScope
}

/** Whether a remedy can be applied as it is filled in, and what that means. */
export interface AbleRemedy {
  applies: boolean
  /** Where it is done, if not here. */
  to: string | null
  undoable: boolean
  /** It sends visitors elsewhere, which counts from then on. */
  leads: boolean
}

/** What narrows the docket; kept in the address bar. */
export interface CaseFilters {
  state: Case['state']
  lane?: string
  domain?: string
  kind?: string
  tag?: string
  owner?: string
}

interface State {
  items: Case[]
  lanes: CaseList['lanes']
  /** Since when checks rest because the desk’s own machine seems cut off. */
  pausedSince: string | null
  /** The case in hand, with its remedies. */
  current: Case | undefined
  /** Open cases in all, for the tab. */
  total: number | undefined
  problem: string
  loading: boolean
  scan: ConflictScan | undefined
  /** The morning round, where it was read. */
  round: MorningRound | undefined
}

/** What a person decides on the docket, as the ledger calls it. */
const DECISIONS = [
  'set-aside',
  'take-up',
  'push',
  'keep',
  'rename',
  'merge',
  'except',
  'move',
  'switch-off',
  'end',
  'pause',
  'change-destination',
  'morning-round',
]

let asked = 0
let wanted = 0
const useDocketStore = defineStore('docket', {
  state: (): State => ({
    items: [],
    lanes: [],
    pausedSince: null,
    current: undefined,
    total: undefined,
    problem: '',
    loading: false,
    scan: undefined,
    round: undefined,
  }),
  actions: {
    /** The remedies that need no decision. */
    async readRound() {
      this.round = await callApi<MorningRound>('/morning-round')
    },
    applyRound: (fixes: { case: number; version: number }[], reason: string) =>
      callApi<RoundApplied>('/morning-round', {
        method: 'POST',
        body: { fixes, ...(reason && { reason }) },
      }),
    /** The newest full scan for conflicts, and how far it is. */
    async readScan() {
      this.scan = (await callApi<{ scan: ConflictScan | null }>('/conflicts/scan')).scan ?? undefined
    },
    async startScan() {
      this.scan = await callApi<ConflictScan>('/conflicts/scan', { method: 'POST' })
    },
    async cancelScan() {
      if (this.scan) await callApi(`/conflicts/scan/${this.scan.id}`, { method: 'DELETE' })
      await this.readScan()
    },
    /** Cases under some filters, the most urgent first. */
    async list(query: CaseFilters) {
      const mine = ++asked
      this.loading = true
      try {
        const answer = await callApi<CaseList>('/cases', { query })
        if (mine !== asked) return
        this.items = answer.items
        // What was read of a case that changed since is not shown as it: a remedy would be meant for another case.
        const listed = answer.items.find(({ id }) => id === this.current?.id)
        if (listed && listed.version !== this.current!.version) this.current = undefined
        this.lanes = answer.lanes
        this.pausedSince = answer.checksPausedSince
        if (Object.values(query).filter(Boolean).join() === 'open') this.count(answer.lanes)
        this.problem = ''
      } catch (error) {
        this.problem = (error as Error).message
      } finally {
        this.loading = false
      }
    },
    async loadTotal() {
      const { lanes } = await callApi<CaseList>('/cases', { query: { state: 'open' } })
      this.count(lanes)
    },
    count(lanes: CaseList['lanes']) {
      this.total = lanes.reduce((sum, lane) => sum + lane.cases, 0)
    },
    /** Reads a case with its remedies, which are worked out anew each time. */
    async read(id: number) {
      wanted = id
      const answer = await callApi<Case>(`/cases/${id}`)
      if (wanted === id) this.current = answer
    },
    async setAside(found: Case, until: string, reason: string) {
      return callApi<Case>(`/cases/${found.id}`, {
        method: 'PATCH',
        version: found.version,
        body: { state: 'set-aside', until, reason },
      })
    },
    async takeUp(found: Case) {
      return callApi<Case>(`/cases/${found.id}`, { method: 'PATCH', version: found.version, body: { state: 'open' } })
    },
    async apply(found: Case, remedy: string, input: RemedyGiven = {}): Promise<string> {
      const { sentence } = await callApi<{ case: Case; sentence: string }>(`/cases/${found.id}/remedies/${remedy}`, {
        method: 'POST',
        version: found.version,
        body: input,
      })
      return sentence
    },
    /** Undoes one's own last decision made on the docket; tells what it was, or nothing where there is none. */
    async undoLast(): Promise<string | undefined> {
      const mine = useSessionStore().session?.member.name
      const { items } = await callApi<{ items: LedgerEntry[] }>('/ledger', { query: { limit: 50 } })
      const last = items.find(
        (entry) =>
          entry.undoRole !== null &&
          useSessionStore().may(entry.undoRole) &&
          entry.actor === mine &&
          DECISIONS.includes(entry.action),
      )
      if (!last) return undefined
      await callApi(`/ledger/${last.id}/undo`, { method: 'POST', body: {} })
      return last.subject.label
    },
  },
})

export { useDocketStore }
