import { isOpenStanding, type Domain } from '../schemas'

/** What is known of a domain beside its own row. */
export interface Beside {
  links: number
  cases: number
  lookedAt: Date | null
  known: boolean
  everyoneBy: Date | null
  reached: boolean
}

/** What to do next about a domain, in a few words; empty where there is nothing. */
export function nextStep(domain: Pick<Domain, 'standing'>, beside: Beside, now: Date): string {
  if (isOpenStanding(domain.standing))
    return beside.cases > 0
      ? `Settle ${beside.cases === 1 ? 'one case' : `${beside.cases} cases`}`
      : domain.standing === 'drifted'
        ? 'Restore its records'
        : ''
  if (!beside.known) return beside.lookedAt === null ? 'Wait for the first check' : 'Read its zone'
  if (domain.standing === 'not-proved') return 'Place the ownership record'
  if (domain.standing === 'proved') return 'Point the address here'
  if (beside.everyoneBy !== null && beside.everyoneBy > now) return 'Wait for DNS caches to expire'
  return beside.reached
    ? `Open it for ${beside.links.toLocaleString('en')} waiting ${beside.links === 1 ? 'link' : 'links'}`
    : 'Wait until it reaches the gateway'
}
