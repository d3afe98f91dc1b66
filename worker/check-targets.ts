import { faultInWords } from '../environment/log'
import type { TargetModel } from '../server/database/models/target'
import type { Database } from '../server/database/open'
import { keepTargetCase } from '../server/docket/targets/keep-target-cases'
import type { NamesContext } from '../server/names/context'
import { Busy, type Asker, type Turns } from '../server/targets/asker'
import { makeChecks, type Checks } from '../server/usecases/targets/check-context'
import { patienceOf } from '../server/usecases/targets/check-settings'
import { checkTarget } from '../server/usecases/targets/check-target'
import { claimForRemedies, claimTargets, putBack } from '../server/usecases/targets/claim-targets'
import { findRemedies, lookAgain } from '../server/usecases/targets/find-remedies'
import { ensureTargets } from '../server/usecases/targets/link-targets'
import { notePause, noticeChanges } from '../server/usecases/targets/notice-changes'
import { makeOnline } from '../server/usecases/targets/online'
import { checksMade } from './metrics'

/** Checks under way at once in one process. */
const AT_ONCE = 32
/** One run ends after this long. */
const RUN_MS = 40_000
const LOOK_MS = 250
/** All links are gone through anew so often; in between, those that changed. */
const ALL_EVERY_MS = 600_000
const CHANGES_EVERY_MS = 1000
/** Two clocks may differ by so much. */
const OVERLAP_MS = 10_000
/** A target is tried again so soon when we were cut off, or something failed on our side. */
const OFFLINE_MS = 15_000

export interface CheckLoopOptions {
  worker: string
  log: (line: string) => void
  stopping?: () => boolean
  turns?: Turns
  lookUp?: Asker['lookUp']
}

/**
 * Makes what keeps destinations checked: claims those that are due, some at a time, no host more often than it may be;
 * writes what was seen, keeps the cases, and looks for remedies where something broke. Any number of processes may run
 * it. Where this machine itself is cut off, nothing is written of anybody.
 */
export function makeTargetWatch(
  names: NamesContext,
  { worker, log, stopping = () => false, turns, lookUp }: CheckLoopOptions,
): (db: Database) => Promise<void> {
  let allAt = 0
  let changesAt = 0
  let paused: boolean | undefined
  // One at a time, beside the checks: it asks many places, each as politely as ever.
  let remedying: Promise<void> | undefined
  let context: { db: Database; checks: () => Promise<Checks>; online: ReturnType<typeof makeOnline> } | undefined

  return async (db) => {
    context =
      context?.db === db
        ? context
        : {
            db,
            checks: makeChecks(db, names, { turns, lookUp }),
            online: makeOnline(db, names),
          }
    const until = Date.now() + RUN_MS
    const busy = new Map<string, number>()
    const under = new Set<Promise<void>>()
    while (!stopping() && Date.now() < until) {
      const looked = Date.now()
      if (looked - allAt > ALL_EVERY_MS) {
        await ensureTargets(db, null)
        allAt = looked
        changesAt = looked
      } else if (looked - changesAt >= CHANGES_EVERY_MS) {
        await noticeChanges(db, new Date(changesAt - OVERLAP_MS))
        changesAt = looked
      }
      let claimed = 0
      while (under.size < AT_ONCE && !stopping()) {
        const { settings } = await context.checks()
        const perHost = turns ? AT_ONCE : settings.checkPerHost
        const targets = await claimTargets(db, { worker, most: AT_ONCE - under.size, perHost, busy })
        if (targets.length === 0) break
        claimed += targets.length
        for (const target of targets) {
          busy.set(target.host, (busy.get(target.host) ?? 0) + 1)
          const work = one(db, target).finally(() => {
            under.delete(work)
            const left = busy.get(target.host)! - 1
            if (left > 0) busy.set(target.host, left)
            else busy.delete(target.host)
          })
          under.add(work)
        }
      }
      remedying ??= oneRemedy(db).finally(() => (remedying = undefined))
      const pause = new Promise<void>((resolve) => setTimeout(resolve, LOOK_MS))
      // Full up: the next is claimed as soon as one is done.
      await (under.size >= AT_ONCE ? Promise.race(under) : Promise.race([pause, ...(claimed > 0 ? under : [])]))
    }
    await Promise.all([...under, remedying])
  }

  async function one(db: Database, target: TargetModel): Promise<void> {
    const { checks, online } = context!
    try {
      const found = await checks()
      let cutOff = false
      const checked = await checkTarget(db, found, target, {
        online: async (evidence) => {
          const isOnline = await online(found.asker, evidence)
          cutOff = !isOnline
          return isOnline
        },
      })
      if (cutOff) {
        checksMade.inc({ verdict: 'cut-off' })
        await putBack(db, target, OFFLINE_MS)
        return await tellPause(db, true)
      }
      if (checked?.verdict) checksMade.inc({ verdict: checked.verdict })
      if (checked) await tellPause(db, false)
      const now = checked ?? (await db.Target.findByPk(target.id))
      if (now) await keepTargetCase(db, now, patienceOf(found.settings))
    } catch (error) {
      if (error instanceof Busy) return void (await putBack(db, target, error.waitMs).catch(() => undefined))
      checksMade.inc({ verdict: 'failed' })
      log(`target ${target.id} (${target.host}) could not be checked: ${faultInWords(error)}`)
      await putBack(db, target, OFFLINE_MS).catch(() => undefined)
    }
  }

  async function tellPause(db: Database, isPaused: boolean): Promise<void> {
    if (paused === isPaused) return
    if (await notePause(db, isPaused))
      log(isPaused ? 'checks rest: this machine seems cut off' : 'checks go on: others answer again')
    paused = isPaused
  }

  /** Looks for remedies of the one target that waits longest for them. */
  async function oneRemedy(db: Database): Promise<void> {
    let target: TargetModel | undefined
    try {
      target = await claimForRemedies(db)
      if (!target) return
      const { asker } = await context!.checks()
      const remedies = await findRemedies(db, asker, target)
      await db.Target.update({ remedies, remediesAt: new Date(), remediesDue: false }, { where: { id: target.id } })
      await lookAgain(db, target, remedies)
    } catch (error) {
      // Nobody waits for this promise: what fails here must end here. A claim runs out and is taken up anew; where the
      // database is away, the other lines tell.
      if (target) log(`no remedies could be looked for for target ${target.id}: ${faultInWords(error)}`)
    }
  }
}
