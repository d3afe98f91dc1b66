import { hostname } from 'node:os'
import { readEnvironment } from '../environment/read'
import { workerVariables } from '../environment/variables'
import { openDatabase } from '../server/database/open'
import { registerJobs, runDueJob } from '../server/usecases/jobs'
import { JOBS } from './jobs'

const ROUND_MS = 1000
const SIGN_MS = 5000

const environment = readEnvironment(workerVariables)
const db = openDatabase(environment.FIDES_DATABASE_URL, { poolSize: 2 })
const name = `${hostname()}-${process.pid}`
const log = (line: string) => process.stdout.write(`worker: ${line}\n`)

let stopping = false
let wake: (() => void) | undefined
for (const signal of ['SIGTERM', 'SIGINT'] as const) {
  process.on(signal, () => {
    stopping = true
    wake?.()
  })
}

let registered = false
let reachable = true
let signed = 0
while (!stopping) {
  try {
    if (!registered) {
      await registerJobs(db, JOBS)
      registered = true
      log(`ready, ${JOBS.length} jobs`)
    }
    if (Date.now() - signed >= SIGN_MS) {
      await db.sequelize.query("INSERT INTO process_sign (process, seen_at) VALUES ('worker', UTC_TIMESTAMP(3)) ON DUPLICATE KEY UPDATE seen_at = VALUES(seen_at)")
      signed = Date.now()
    }
    while (!stopping && (await runDueJob(db, JOBS, name)) !== undefined);
    if (!reachable) log('the database answers again')
    reachable = true
  } catch (error) {
    if (reachable) log(`the database does not answer (${(error as Error).message.split('\n')[0]}); trying again`)
    reachable = false
  }
  if (stopping) break
  await new Promise<void>((resolve) => {
    const timer = setTimeout(resolve, ROUND_MS)
    wake = () => {
      clearTimeout(timer)
      resolve()
    }
  })
}
await db.sequelize.close()
log('stopped')
