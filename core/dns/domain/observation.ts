import type { DnsName } from '../name'

/** What one server answered one question; kept as long as the answer stays the same. */
export interface Observation {
  /** `authority`: a name server of the zone; `resolver`: one that asks for others and keeps answers. */
  role: 'authority' | 'resolver'
  server: string
  name: DnsName
  type: string
  /** `none` covers both "no such record" and "no such name"; `lame` a name server that is no authority for the zone. */
  status: 'answered' | 'none' | 'lame' | 'refused' | 'failed' | 'silent'
  /** The data of each record of the set asked for, in order; for an alias, the target comes first as `CNAME name`. */
  data: string[]
  /** Seconds the answer may still be kept (for `none`, by RFC 2308 §5); `null` where there was no answer. */
  ttl: number | null
  /** Milliseconds: when this answer was first and last given, and when its TTL was read. */
  firstAt: number
  at: number
  /** It had answered the same question before this run of answers. */
  hadAnswered?: boolean
}

/** What a server did that gave no data, as the rest of a sentence that begins with its name. */
export const STATUS_WORDS: Readonly<Record<Exclude<Observation['status'], 'answered' | 'none'>, string>> = {
  lame: 'is no authority for the zone',
  refused: 'refuses to answer',
  failed: 'fails (SERVFAIL)',
  silent: 'no answer',
}

/** Whether two answers say the same. */
export const sameAnswer = (a: Observation, b: Observation) =>
  a.status === b.status && a.data.join('\n') === b.data.join('\n')
