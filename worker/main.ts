import { randomBytes } from 'node:crypto'
import { constants, getPriority, hostname, setPriority } from 'node:os'
import { collectDefaultMetrics } from 'prom-client'
import { faultInWords, makeLog } from '../environment/log'
import { readEnvironment } from '../environment/read'
import { serveMetrics } from '../environment/serve-metrics'
import { workerVariables } from '../environment/variables'
import { openDatabase } from '../server/database/open'
import { keepHeldChanges } from '../server/docket/dates/keep-held-changes'
import { makeDueChanges } from '../server/usecases/changes/due-proposals'
import { giveBackJobs } from '../server/usecases/jobs/give-back'
import { makeNamesContext } from '../server/names/context'
import { registerJobs, runDueJob, type Job } from './leases'
import { makeWatch } from './watch-domains'
import { makeConflictWatch } from './watch-conflicts'
import { makeJobs } from './housekeeping'
import { makeMissWatch } from './count-misses'
import { makeTargetWatch } from './check-targets'
import { changesMade } from './metrics'
import { registerOperations } from './operations'
import { makeSearchKeeper } from './keep-search'
import { makeTellers } from './tell'

const ROUND_MS = 1000
const SIGN_MS = 5000
/** So long a run under way may go on after the sign to stop. */
const PATIENCE_MS = 3000

// Visitors and people at the desk wait for an answer; nobody waits for the worker. One that runs lower is left there.
const { PRIORITY_BELOW_NORMAL } = constants.priority
if (getPriority() < PRIORITY_BELOW_NORMAL) setPriority(PRIORITY_BELOW_NORMAL)

const environment = readEnvironment(workerVariables)
const db = openDatabase(environment.FIDES_DATABASE_URL, { poolSize: 12 })
// Two containers may have the same host name and process id.
const name = `${hostname()}-${process.pid}-${randomBytes(4).toString('hex')}`
const logger = makeLog('worker')
const log = (line: string) => logger.info(line)

if (environment.FIDES_WORKER_CONTROL_PORT) {
  collectDefaultMetrics({ prefix: 'fides_worker_' })
  registerOperations(db)
  serveMetrics(environment.FIDES_WORKER_CONTROL_PORT, (error) => log(`no metrics: ${error.message}`))
}

let stopping = false
// The watches wait most of their time; the other jobs must not wait for them.
const names = makeNamesContext(environment)
const LINES: readonly (readonly Job[])[] = [
  makeJobs(environment),
  [{ kind: 'watch', everySeconds: 1, run: makeWatch(names, log, () => stopping) }],
  [{ kind: 'conflicts', everySeconds: 0, run: makeConflictWatch(log, () => stopping) }],
  [{ kind: 'changes', everySeconds: 1, run: makeChanges }],
  [{ kind: 'search', everySeconds: 0, run: makeSearchKeeper(() => stopping) }],
  [{ kind: 'misses', everySeconds: 0, run: makeMissWatch(log, () => stopping) }],
  ...makeTellers(environment, names, log),
]

/** Makes the changes whose moment has come, and counts them. */
async function makeChanges(): Promise<void> {
  await giveBackJobs(db)
  const { made, held } = await makeDueChanges(db)
  changesMade.inc({ outcome: 'made' }, made.length)
  changesMade.inc({ outcome: 'held' }, held.length)
  for (const id of held) log(`change ${id} is held`)
  await keepHeldChanges(db)
}

const wakes = new Set<() => void>()
for (const signal of ['SIGTERM', 'SIGINT'] as const) {
  process.on(signal, () => {
    stopping = true
    for (const wake of wakes) wake()
    // Answers that are waited for are given up; leases end by themselves.
    setTimeout(() => process.exit(0), PATIENCE_MS).unref()
  })
}

let reachable = true
let signed = 0
await Promise.all([...LINES.map(work), checkTargets()])
await db.sequelize.close()
log('stopped')

/** Runs the jobs of one line, one after the other, whenever they are due. */
async function work(jobs: readonly Job[]): Promise<void> {
  let registered = false
  while (!stopping) {
    try {
      if (!registered) {
        await registerJobs(db, jobs)
        registered = true
        log(`ready: ${jobs.map((job) => job.kind).join(', ')}`)
      }
      if (Date.now() - signed >= SIGN_MS) {
        await db.sequelize.query(
          "INSERT INTO process_sign (process, seen_at, starts) VALUES ('worker', UTC_TIMESTAMP(3), 1) ON DUPLICATE " +
            `KEY UPDATE seen_at = VALUES(seen_at), starts = starts + ${signed === 0 ? 1 : 0}`,
        )
        signed = Date.now()
      }
      while (!stopping && (await runDueJob(db, jobs, name)) !== undefined);
      if (!reachable) log('the database answers again')
      reachable = true
    } catch (error) {
      if (reachable) log(`the database does not answer (${faultInWords(error)}); trying again`)
      reachable = false
    }
    if (!stopping) await pause()
  }
}

/** Checks targets: no job, since each target is leased by itself and any number of workers share them. */
async function checkTargets(): Promise<void> {
  const run = makeTargetWatch(names, { worker: name, log, stopping: () => stopping })
  log('ready: targets')
  while (!stopping) {
    // Where the database is away, the other lines tell.
    await run(db).catch(() => undefined)
    if (!stopping) await pause()
  }
}

function pause(): Promise<void> {
  return new Promise((resolve) => {
    const wake = () => {
      clearTimeout(timer)
      wakes.delete(wake)
      resolve()
    }
    const timer = setTimeout(wake, ROUND_MS)
    wakes.add(wake)
  })
}
