import type { Database } from '../server/database/open'
import { keepMissCases } from '../server/docket/misses/keep-miss-cases'
import { missRegister } from '../server/usecases/misses/miss-register'
import { organisationDay } from '../server/usecases/misses/organisation-day'
import { ageFigures, lookAgain, rankDue } from '../server/usecases/misses/rank-misses'
import { takeEvents } from '../server/usecases/misses/take-events'

/** How often what came is looked for, in milliseconds. */
const POLL_MS = 500
/** One run ends after this long. */
const RUN_MS = 45_000
/** After changes of the register, what misses may mean is worked out anew at most so often. */
const RANK_AGAIN_MS = 60_000

/**
 * Makes what counts misses, ranks what they may mean and keeps the docket's lane of them: by what the gateways stored,
 * and again where the register changed.
 */
export function makeMissWatch(
  log: (line: string) => void,
  stopping: () => boolean = () => false,
): (db: Database) => Promise<void> {
  let revision: number | undefined
  let rankedAt = 0
  let rankedRevision: number | undefined
  let agedOn = ''
  let told = false
  return async (db) => {
    const until = Date.now() + RUN_MS
    // Cases are looked at once a run at the least, as dates move on.
    let changed = true
    while (!stopping() && Date.now() < until) {
      const { timeZone, today } = await organisationDay(db)
      const taken = await takeEvents(db, timeZone)
      // The index of all links takes as much memory as the links themselves: it is made once there is a miss to rank.
      if (!told && (await db.Miss.findOne({ attributes: ['id'] })) === null) {
        await new Promise((resolve) => setTimeout(resolve, POLL_MS))
        continue
      }
      const register = await missRegister(db)
      if (!told) log(`misses: ${register.index.size} addresses in ${Math.round(register.index.bytes / 1024)} KiB`)
      told = true
      if (agedOn !== today) {
        await ageFigures(db, today)
        agedOn = today
      }
      if (register.revision !== revision) {
        const again = register.revision !== rankedRevision && Date.now() - rankedAt > RANK_AGAIN_MS
        await lookAgain(db, register, again)
        if (again) {
          rankedAt = Date.now()
          rankedRevision = register.revision
        }
        revision = register.revision
        changed = true
      } else if (rankedRevision !== revision && Date.now() - rankedAt > RANK_AGAIN_MS) revision = undefined
      const ranked = await rankDue(db, register, today)
      if (changed || ranked > 0) await keepMissCases(db)
      changed = false
      if (taken === 0 && ranked === 0) await new Promise((resolve) => setTimeout(resolve, POLL_MS))
    }
  }
}
