import { HeavyPaths } from './heavy'

/** Bounds on what one domain's requests that found nothing may take in an hour. */
export const ADMISSION = {
  /** Paths written one by one, as they come first. */
  paths: 1000,
  /** Paths one day token may bring among them: more is a scan. */
  eachToken: 40,
  /** Tokens remembered for a domain, and for all together; more share what is left. */
  tokens: 4000,
  allTokens: 40_000,
  /** Counters of the sketch beyond. */
  counters: 1024,
  /** A path asked so often beyond that is written from then on. */
  promoted: 3,
  /** So many may be. */
  mostPromoted: 1000,
  /** Paths of the hour before that several tokens asked for, let in at once. */
  carried: 1000,
} as const

const HOUR_MS = 3_600_000

interface Hour {
  hour: number
  admitted: Map<string, string | true>
  carried: Set<string>
  tokens: Map<string, number>
  heavy: HeavyPaths
  promoted: number
  cut: number
}

/** What was not written one by one: how many requests of a domain's hour. */
export interface Cut {
  domainId: number
  /** When the hour began, in milliseconds. */
  hour: number
  requests: number
}

/** A cut as one line of JSON for the spool, beside the lines of events. */
export const writeCut = ({ domainId, hour, requests }: Cut): string => JSON.stringify(['cut', domainId, hour, requests])

/** Reads a cut back; `undefined` for any other line. */
export function readCut(line: string): Cut | undefined {
  if (!line.startsWith('["cut",')) return undefined
  try {
    const [, domainId, hour, requests] = JSON.parse(line) as [string, number, number, number]
    return [domainId, hour, requests].every(Number.isSafeInteger) ? { domainId, hour, requests } : undefined
  } catch {
    return undefined
  }
}

/**
 * Decides which requests that found nothing are written, so that whatever is asked, memory, spool and rows stay within
 * bounds: the first paths of a domain's hour, few from each visitor; those known from the hour before; and of all
 * others the ones asked again and again. What is cut is counted.
 */
export class Admission {
  private readonly hours = new Map<number, Hour>()
  private readonly cuts: Cut[] = []
  private tokens = 0

  /** Whether a request is written. `token` names the visitor for a day. */
  admits(domainId: number, path: string, token: string, now: number): boolean {
    const hour = Math.floor(now / HOUR_MS)
    let state = this.hours.get(domainId)
    if (!state || state.hour !== hour) this.hours.set(domainId, (state = this.next(domainId, state, hour)))
    const asker = state.admitted.get(path)
    if (asker !== undefined) {
      if (asker !== true && asker !== token) state.admitted.set(path, true)
      return true
    }
    if (state.carried.has(path)) {
      state.admitted.set(path, token)
      return true
    }
    const brought = state.tokens.get(token) ?? 0
    const known = state.tokens.has(token)
    const counted = known || (state.tokens.size < ADMISSION.tokens && this.tokens < ADMISSION.allTokens)
    if (counted && !known) this.tokens++
    if (counted) state.tokens.set(token, brought + 1)
    if (counted && brought < ADMISSION.eachToken && state.admitted.size - state.promoted < ADMISSION.paths) {
      state.admitted.set(path, token)
      return true
    }
    if (state.heavy.count(path) >= ADMISSION.promoted && state.promoted < ADMISSION.mostPromoted) {
      state.promoted++
      state.admitted.set(path, token)
      return true
    }
    state.cut++
    return false
  }

  private next(domainId: number, before: Hour | undefined, hour: number): Hour {
    if (before && before.cut > 0) this.cuts.push({ domainId, hour: before.hour * HOUR_MS, requests: before.cut })
    this.tokens -= before?.tokens.size ?? 0
    const carried = new Set<string>()
    if (before && hour - before.hour <= 24)
      for (const [path, token] of before.admitted)
        if (token === true && carried.size < ADMISSION.carried) carried.add(path)
    return {
      hour,
      admitted: new Map(),
      carried,
      tokens: new Map(),
      heavy: new HeavyPaths(ADMISSION.counters),
      promoted: 0,
      cut: 0,
    }
  }

  /** What was cut since the last time, to be told once; of hours that are over only what the next needs is kept. */
  takeCuts(now: number): Cut[] {
    for (const [domainId, state] of this.hours) {
      if (state.hour < Math.floor(now / HOUR_MS) && state.tokens.size > 0) {
        this.tokens -= state.tokens.size
        state.tokens.clear()
        state.heavy = new HeavyPaths(ADMISSION.counters)
      }
      if (state.cut > 0) {
        this.cuts.push({ domainId, hour: state.hour * HOUR_MS, requests: state.cut })
        state.cut = 0
      }
    }
    return this.cuts.splice(0)
  }
}
