import { RateLimiterMemory } from 'rate-limiter-flexible'
import type { Intake, IntakeFetch } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { NamesContext } from '../../names/context'
import { FairTurns } from '../../threads/fair-turns'
import type { Actor } from '../ledger/change'
import { Problem } from '../problem'
import { checksOf } from '../targets/try-again'
import { fetchFile } from './fetch-file'
import { makeIntake } from './intakes'

// Who brings files in fetches a few; nobody fetches the web through us.
const tries = new RateLimiterMemory({ points: 10, duration: 60 })

/** A file that is fetched is held in memory until it is read. */
const turns = new FairTurns({ atOnce: 3, waiting: 20, waitingPerAsker: 3, what: 'fetched files' })

/** Takes in a file that lies on a server: fetched as destinations are asked, then read like one that was sent. */
export async function fetchIntake(
  db: Database,
  names: NamesContext,
  databaseUrl: string,
  actor: Actor,
  { address, everyHost, ...options }: IntakeFetch,
): Promise<Intake> {
  await tries.consume(actor.memberId === null ? actor.name : `member ${actor.memberId}`).catch(() => {
    throw new Problem(429, 'Too many files', 'At most 10 files a minute are fetched for one person; wait a little.')
  })
  const { asker } = await checksOf(db, names)()
  const { name, octets } = await turns.run(() => fetchFile(asker, address))
  return makeIntake(db, databaseUrl, actor, { ...options, name, everyHost: everyHost ? '1' : undefined }, octets)
}
