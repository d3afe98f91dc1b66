/** What a page asks, and what it is told. */
export type Asked = { ask: string } | { make: string }

export type Told =
  | { state: 'known'; short: string; copy: string }
  /** None leads there yet; whether this person may make one. */
  | { state: 'none'; mayMake: boolean }
  /** Nothing to do with it: one of ours already, or the settings are not made. */
  | { state: 'quiet' }
  | { state: 'refused'; sentence: string }

/** What the command of the keyboard has a page do. */
export interface Command {
  command: 'shorten'
}
