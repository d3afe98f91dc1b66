import { isOpenStanding, type Domain } from '../schemas'
import { counted } from '../text/counted'

/** What is known of a domain beside its own row. */
export interface Beside {
  links: number
  cases: number
  lookedAt: Date | null
  known: boolean
  everyoneBy: Date | null
  reached: boolean
}

export interface NextStep {
  /** A few words; empty where there is nothing. */
  next: string
  /** Where it is done; null where nobody can do anything. */
  nextAt: Domain['nextAt']
}

const onDocket = (next: string): NextStep => ({ next, nextAt: 'docket' })
const atRecords = (next: string): NextStep => ({ next, nextAt: 'records' })
const wait = (next: string): NextStep => ({ next, nextAt: null })

/** What to do next about a domain, and where. */
export function nextStep(domain: Pick<Domain, 'standing'>, beside: Beside, now: Date): NextStep {
  if (isOpenStanding(domain.standing)) {
    if (beside.cases > 0) return onDocket(`Settle ${beside.cases === 1 ? 'one case' : `${beside.cases} cases`}`)
    return domain.standing === 'drifted' ? atRecords('Restore its records') : { next: '', nextAt: null }
  }
  if (!beside.known) return beside.lookedAt === null ? wait('Wait for the first check') : atRecords('Read its zone')
  if (domain.standing === 'not-proved') return atRecords('Place the ownership record')
  if (domain.standing === 'proved') return atRecords('Point the address here')
  if (beside.everyoneBy !== null && beside.everyoneBy > now) return wait('Wait for DNS caches to expire')
  return beside.reached
    ? atRecords(`Open it for ${counted(beside.links, 'waiting link')}`)
    : wait('Wait until it reaches the gateway')
}
