import type { Observation } from './observation'

/** How one server stands to what is wanted of one set. */
export type SightState = 'new' | 'old' | 'absent' | 'silent' | 'faulty'

/** What a set must be like to count as new. */
export interface Wanted {
  name: string
  type: string
  data: readonly string[]
}

/**
 * How an observation stands to what is wanted: every wanted record is there, and no other (TXT and CAA may have more
 * beside).
 */
export function judgeSight(wanted: Wanted, seen: Observation | undefined): SightState {
  if (!seen || seen.status === 'silent') return 'silent'
  if (seen.status === 'none') return wanted.data.length === 0 ? 'new' : 'absent'
  if (seen.status !== 'answered') return 'faulty'
  const all = wanted.data.every((data) => seen.data.includes(data))
  const exact = wanted.type === 'TXT' || wanted.type === 'CAA' || seen.data.length === wanted.data.length
  return all && exact ? 'new' : 'old'
}

export interface ResolverForecast {
  server: string
  state: SightState
  /** Milliseconds: from when on it gives the new answer; `undefined` where that cannot be told. */
  by: number | undefined
  /** It said it would keep the old answer longer than the record allowed. */
  stretches: boolean
}

export interface Forecast {
  /** Milliseconds: when the last name server of the zone had the new answer; `undefined` while one has not. */
  changedAt: number | undefined
  /** From this moment on everyone sees the new answer, resolvers never asked included. */
  everyoneBy: number | undefined
  resolvers: ResolverForecast[]
}

export interface ForecastInput {
  wanted: Wanted
  /** When the last name server of the zone began to give the new answer, in milliseconds. */
  changedAt: number | undefined
  /** Until when a resolver nobody asks may hold another answer, in milliseconds (`advanceHeld`). */
  heldUntil: number | undefined
  /** For each resolver, its answers since the change, oldest first. */
  resolvers: { server: string; seen: readonly Observation[] }[]
  /** TTLs run this many times as fast as the clock on the wall; 1 but for a demonstration. */
  speed?: number
}

/** Resolvers count in whole seconds and may keep an answer through the last of them. */
export const ROUNDING_SECONDS = 1

/**
 * Forecasts when everyone sees a set's new answer: no resolver may have taken the old one after the change, and none
 * may keep it longer than its TTL (RFC 1035 §3.2.1, RFC 2181 §8). A resolver that was asked said how long it keeps its
 * own; an answer with r seconds left lapses within them. Every further answer can only bring that forward, unless the
 * resolver says that it keeps answers longer than they allow.
 */
export function forecast({ wanted, changedAt, heldUntil, resolvers, speed = 1 }: ForecastInput): Forecast {
  const span = (seconds: number) => (seconds * 1000) / speed
  const bound =
    changedAt === undefined ? undefined : Math.max(changedAt, heldUntil ?? changedAt) + span(ROUNDING_SECONDS)
  const view = resolvers.map(({ server, seen }): ResolverForecast => {
    const last = seen.at(-1)
    const state = judgeSight(wanted, last)
    if (state === 'new') return { server, state, by: last!.firstAt, stretches: false }
    const held = seen.filter(
      (observation) =>
        (state === 'old' || state === 'absent') &&
        observation.ttl !== null &&
        judgeSight(wanted, observation) === state &&
        observation.data.join() === last!.data.join(),
    )
    if (bound === undefined || held.length === 0) return { server, state, by: bound, stretches: false }
    const own = Math.min(...held.map(({ at, ttl }) => at + span(ttl! + ROUNDING_SECONDS)))
    // The part of a second at which it was asked is no longer keeping.
    const stretches = own > bound + span(ROUNDING_SECONDS)
    return { server, state, by: stretches ? own : Math.min(own, bound), stretches }
  })
  const latest =
    bound === undefined
      ? undefined
      : Math.max(
          bound,
          ...view
            .filter((resolver) => resolver.state !== 'new' && resolver.by !== undefined)
            .map((resolver) => resolver.by!),
        )
  return { changedAt, everyoneBy: latest, resolvers: view }
}
