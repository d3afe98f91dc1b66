/** Where a request came from, as far as the doors need to know. */
export interface Caller {
  /** The visitor's address; behind a trusted proxy the one it tells. */
  peer: string
  agent: string
  /** Scheme, host and port of the desk as the browser sees it. */
  origin: string
}

const MAX_AGENT = 200

export const agentOf = (userAgent: string | undefined): string => (userAgent ?? '').slice(0, MAX_AGENT)
