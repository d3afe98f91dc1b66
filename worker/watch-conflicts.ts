import type { Conflict, Survey, SurveyDiff } from '../core/conflicts'
import type { Database } from '../server/database/open'
import { yielder } from '../server/usecases/yield-to-event-loop'
import { takeScan, type ScanWork } from '../server/usecases/conflicts/conflict-scan'
import { LeaseLost } from '../server/usecases/jobs/leased-work'
import { keepAllConflicts, keepConflicts } from '../server/docket/conflicts/keep-conflicts'
import { catchUp, readSurvey, renewSurvey, refreshStale } from '../server/usecases/conflicts/read-survey'
import { FIGURES_MS, takeFigures } from '../server/usecases/conflicts/survey-figures'

/** How often the ledger is asked, in milliseconds. */
const POLL_MS = 150
/** One run ends after this long. */
const RUN_MS = 45_000
const TELL_MS = 250

/**
 * Makes what keeps the docket's lane of conflicts current: a survey that follows the ledger, re-examines what each
 * change can affect and writes what came and went. Full scans that were asked for run in between, step by step.
 */
export function makeConflictWatch(
  log: (line: string) => void,
  stopping: () => boolean = () => false,
): (db: Database) => Promise<void> {
  let survey: Survey | undefined
  /** Whether what changed since concerns so much that the survey is made anew. */
  let outdated = false
  let figuresAt = 0
  // What could not be written yet, most likely because the database went away.
  const unwritten = new Map<string, Conflict>()
  let allUnwritten = false

  const note = (diff: SurveyDiff) => {
    for (const conflict of [...diff.added, ...diff.removed, ...diff.changed.map(({ now }) => now)])
      unwritten.set(conflict.key, conflict)
  }

  return async (db) => {
    const until = Date.now() + RUN_MS
    while (!stopping() && Date.now() < until) {
      if (!survey || outdated) {
        if (!survey) figuresAt = Date.now()
        const fresh = survey ? await renewSurvey(db, survey) : await readSurvey(db)
        await drive(fresh, () => Promise.resolve(true))
        survey = fresh
        outdated = false
        log(`conflicts: ${survey.size} among ${survey.state.links.size} links and ${survey.state.rules.size} rules`)
        allUnwritten = true
      }
      const diff = await catchUp(db, survey)
      outdated = !diff
      if (!diff) continue
      note(diff)
      for (const yieldNow = yielder('considerate'); survey.behind.size > 0 && !stopping(); await yieldNow())
        note(await refreshStale(db, survey, yieldNow))
      if (Date.now() - figuresAt > FIGURES_MS) {
        await takeFigures(db, survey)
        allUnwritten = true
        figuresAt = Date.now()
      }
      if (allUnwritten) await keepAllConflicts(db, survey)
      else if (unwritten.size > 0) await keepConflicts(db, survey, [...unwritten.values()])
      allUnwritten = false
      unwritten.clear()
      const asked = await takeScan(db)
      if (asked && !(await scan(db, survey, asked))) survey = undefined
      await new Promise((resolve) => setTimeout(resolve, POLL_MS))
    }
  }

  /**
   * Finds everything again in what follows the ledger: reading a second copy of the register takes as long and as much
   * memory as the scan itself. False where it was not ended; what is found is incomplete then.
   */
  async function scan(db: Database, current: Survey, asked: ScanWork): Promise<boolean> {
    try {
      return await asked.run(async () => {
        const isWhole = await drive(current, async (phase, done, total) => {
          await asked.beat({ phase, done, total })
          return !stopping()
        })
        if (!isWhole) {
          await asked.finish({ to: 'queued' })
          return false
        }
        await keepAllConflicts(db, current)
        const found: Record<string, number> = {}
        for (const conflict of current.conflicts) found[conflict.kind] = (found[conflict.kind] ?? 0) + 1
        const { size } = current.state.links
        const values = { found: JSON.stringify(found), done: size, total: size, ended_at: new Date() }
        await asked.finish({ to: 'done', values })
        return true
      })
    } catch (error) {
      // Cancelled.
      if (error instanceof LeaseLost) return false
      const problem = (error as Error).message.slice(0, 600)
      await asked.finish({ to: 'failed', values: { problem, ended_at: new Date() } }).catch(() => undefined)
      survey = undefined
      throw error
    }
  }
}

/** Drives a scan without holding others up; tells progress now and then and stops where that says so. */
async function drive(
  survey: Survey,
  tell: (phase: string, done: number, total: number) => Promise<boolean>,
): Promise<boolean> {
  let toldAt = 0
  const yieldNow = yielder()
  for (const { phase, done, total } of survey.scan()) {
    if (Date.now() - toldAt > TELL_MS) {
      if (!(await tell(phase, done, total))) return false
      toldAt = Date.now()
    } else await yieldNow()
  }
  return true
}
