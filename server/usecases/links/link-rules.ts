import type { Transaction } from 'sequelize'
import { DESTINATION_REFUSALS, readDestination } from '../../../core/address'
import type { Database } from '../../database/open'
import { followDestination } from './follow-destination'
import { fieldProblem } from '../problem'

/** Refuses an end that is not after the start. */
export function checkDates(input: { startsAt: string | null; endsAt: string | null }): void {
  if (input.startsAt && input.endsAt && Date.parse(input.endsAt) <= Date.parse(input.startsAt)) {
    throw fieldProblem('endsAt', 'The end must be later than the start.')
  }
}

/** Refuses a destination whose scheme the domain does not list. */
export function checkDestination(field: string, destination: string, domain: { appSchemes: string[] }): void {
  const reading = readDestination(destination, domain.appSchemes)
  if (!reading.ok) throw fieldProblem(field, DESTINATION_REFUSALS[reading.reason])
}

/** Refuses a destination that leads back to its own link, through whatever links of ours. */
export async function checkForward(
  db: Database,
  start: { domainId: number; canonical: string },
  destination: string,
  field: string,
  transaction: Transaction,
): Promise<void> {
  const { loops, via } = await followDestination(db, start, destination, transaction)
  if (!loops) return
  const through = via.length > 1 ? `, through ${via.slice(0, -1).join(', ')}` : ''
  throw fieldProblem(
    field,
    `Redirect loop: this destination leads back to the link${through}. Enter another destination.`,
  )
}

/**
 * Refuses where a link is to lead, under `field`: an address that its domain does not allow, or one that leads back to
 * the link itself.
 */
export async function checkLeading(
  db: Database,
  change: { transaction: Transaction },
  link: { domainId: number; canonical: string | null },
  domain: { appSchemes: string[] },
  field: 'destination' | 'endedDestination',
  destination: string,
): Promise<void> {
  checkDestination(field, destination, domain)
  const start = { domainId: link.domainId, canonical: link.canonical ?? '' }
  await checkForward(db, start, destination, field, change.transaction)
}
