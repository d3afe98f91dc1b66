/** What a long job of one kind may become. */
export interface JobKind<State extends string = string> {
  /** The table its rows are in. */
  table: string
  /** What each state may become; a state that nothing leaves is final. */
  transitions: { readonly [From in State]: readonly State[] }
  /** States in which somebody works on it under a lease, and after how many seconds that work is stopped. */
  working: { readonly [S in State]?: number }
}

/** A lease is valid for this long without a heartbeat, by the clock of the database. */
export const LEASE_SECONDS = 20
/** Seconds between two heartbeats. */
export const HEARTBEAT_SECONDS = 4

/** A row as it was read: if another transition came first, nothing is done. */
export interface Expected<State extends string = string> {
  id: number
  state: State
  version: number
}

/** Whether a job of a kind may go from one state to another. */
export const mayMove = <State extends string>(kind: JobKind<State>, from: State, to: State): boolean =>
  kind.transitions[from].includes(to)

/** Whether nothing leads out of a state. */
export const isFinal = <State extends string>(kind: JobKind<State>, state: State): boolean =>
  kind.transitions[state].length === 0
