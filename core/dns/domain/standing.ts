import type { SightState } from './forecast'

export type DomainStanding = 'not-proved' | 'proved' | 'spreading' | 'open' | 'drifted'

/** What the name servers and resolvers were seen to say of a domain's records. */
export interface StandingInput {
  current: DomainStanding
  /** The ownership record, at each name server of the zone. */
  proof: readonly SightState[]
  /** The records that point here: for each name server, how it stands to each set. */
  authorities: readonly (readonly SightState[])[]
  resolvers: readonly (readonly SightState[])[]
}

const said = (state: SightState) => state !== 'silent' && state !== 'faulty'

/**
 * The standing a domain is in by what was seen. Only answers count: a server that is silent proves nothing. Opening is
 * a person's decision and never taken here; an open domain drifts as soon as one name server gives other records, and
 * is back when all of them answer and none gives wrong ones.
 */
export function standingBySight({ current, proof, authorities, resolvers }: StandingInput): DomainStanding {
  const answers = authorities.flat().filter(said)
  if (current === 'open' || current === 'drifted') {
    if (answers.length === 0) return current
    // A server that said the wrong thing and is silent now has not been mended.
    if (current === 'drifted' && authorities.flat().includes('silent')) return current
    return answers.every((state) => state === 'new') ? 'open' : 'drifted'
  }
  const proofs = proof.filter(said)
  if (proofs.length === 0) return current
  if (!proofs.every((state) => state === 'new')) return 'not-proved'
  const pointsHere = [...authorities, ...resolvers].some(
    (states) => states.length > 0 && states.every((state) => state === 'new'),
  )
  return pointsHere ? 'spreading' : 'proved'
}
