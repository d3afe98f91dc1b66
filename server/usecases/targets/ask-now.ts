import pLimit from 'p-limit'
import { RateLimiterMemory } from 'rate-limiter-flexible'
import type { Database } from '../../database/open'
import type { NamesContext } from '../../names/context'
import { Busy } from '../../targets/asker'
import { checkDestination, type Checked, type CheckOptions } from '../../targets/check'
import type { Actor } from '../ledger/change'
import { Problem } from '../problem'
import { checksOf, onlineOf } from './try-again'

// Who types a destination asks a few; nobody asks the web through us.
const tries = new RateLimiterMemory({ points: 40, duration: 60 })
const atOnce = pLimit(6)

/**
 * Asks a destination at a person’s wish, as politely as ever; refused where one person asks too many, and with 503
 * where the host asked to wait or this machine itself is cut off: nobody is called broken for that.
 */
export async function askNow(
  db: Database,
  names: NamesContext,
  actor: Actor,
  destination: string,
  options: CheckOptions = {},
): Promise<Checked> {
  await tries.consume(actor.name).catch(() => {
    throw new Problem(
      429,
      'Too many checks',
      'At most 40 destinations a minute are asked for one person; wait a little.',
    )
  })
  const { asker } = await checksOf(db, names)()
  const checked = await atOnce(() => checkDestination(asker, destination, options)).catch((error: unknown) => {
    if (error instanceof Busy)
      throw new Problem(503, 'Cannot be asked now', `${error.host} asked us to wait (Retry-After). Try again later.`)
    throw error
  })
  if (!(await onlineOf(db, names)(asker, checked.evidence)))
    throw new Problem(503, 'Cut off', 'This machine itself seems cut off, so it cannot be told; try again later.')
  return checked
}
