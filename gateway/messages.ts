import type { LikelyFigures } from './likely'

/** What a serving process says of itself. */
export interface ServingStatus {
  connected: boolean
  revision: number
  /** Milliseconds; `null` where the database has not answered since the start. */
  heardAt: number | null
  links: number
  heapBytes: number
  likely: LikelyFigures
}

/** What a serving process tells the one that leads. */
export type ToLead =
  | { type: 'open-hosts'; hosts: string[] }
  | { type: 'status'; id: number; status: ServingStatus }
  /** It answers visitors from now on. */
  | { type: 'serving' }

/** What it is told. */
export type ToServing = { type: 'nudge' } | { type: 'status'; id: number } | { type: 'drain'; patienceMs: number }

/** Whether a message of the cluster is one of ours; other packages speak over the same channel. */
export const isOurs = <Message extends { type: string }>(message: unknown): message is Message =>
  typeof message === 'object' && message !== null && typeof (message as { type?: unknown }).type === 'string'

/** What the control port asks of the serving processes. */
export interface Lead {
  /** What each serving process says; those that do not answer within a second are left out. */
  statuses(): Promise<ServingStatus[]>
  /** How many processes answer visitors. */
  serving(): number
  handovers(): number
  /** How many serving processes were restarted after an unexpected end. */
  restarts(): number
  /** Whether a domain is open, by what the serving processes hold in memory. */
  isOpen(host: string): boolean
  nudge(): void
}
