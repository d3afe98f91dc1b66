import { judgeSight, type Wanted } from './forecast'
import type { Observation } from './observation'

export interface HeldInput {
  /** What resolvers are asked for visitors. */
  wanted: readonly Wanted[]
  /** The answers of the look before, and of this one. */
  previous: readonly Observation[]
  seen: readonly Observation[]
  /** What the look before gave; `undefined` at the first. */
  before: number | undefined
  /** How long other answers may be held where none was ever seen, by the plan; seconds. */
  planned: number
  now: number
  speed: number
}

/**
 * Until when a resolver, asked or never heard of, may hold another answer than the wanted one; milliseconds. An answer
 * that a name server gave at the look before, or gives now, may have been fetched up to now, and is then held for the
 * TTL it had (RFC 1035 §3.2.1, RFC 2308 §5). Never comes earlier, and stays as soon as all name servers give the new.
 */
export function advanceHeld({ wanted, previous, seen, before, planned, now, speed }: HeldInput): number {
  const asked = seen.filter((each) => each.role === 'authority' && setOf(each))
  const moments = asked.flatMap((each) => {
    const earlier = previous.find(
      ({ role, server, name, type }) =>
        role === each.role && server === each.server && name === each.name && type === each.type,
    )
    const ttls = [each, ...(earlier ? [earlier] : [])].flatMap((one) => otherTtl(one) ?? [])
    return ttls.length > 0 ? [each.at + (Math.max(...ttls) * 1000) / speed] : []
  })
  if (before === undefined && moments.length === 0)
    moments.push(Math.max(...asked.map(({ at }) => at), asked.length === 0 ? now : 0) + (planned * 1000) / speed)
  return Math.ceil(Math.max(before ?? 0, ...moments))

  function setOf(observation: Observation): Wanted | undefined {
    return wanted.find((each) => each.name === observation.name && each.type === observation.type)
  }
  /** How long another answer than the wanted one may be kept; `undefined` where it is the wanted one. */
  function otherTtl(observation: Observation): number | undefined {
    const isOther = ['old', 'absent'].includes(judgeSight(setOf(observation)!, observation))
    return isOther ? (observation.ttl ?? undefined) : undefined
  }
}
