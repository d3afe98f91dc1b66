// One worker of bench:checks: checks targets on loopback until it is stopped, and prints its memory each second.
import { openDatabase } from '../server/database/open'
import type { NamesContext } from '../server/names/context'
import { NO_POLITENESS } from '../server/targets/asker'
import { makeTargetWatch } from '../worker/check-targets'

const db = openDatabase(process.env.FIDES_DATABASE_URL!, { poolSize: 10 })
const port = Number(process.env.FIDES_BENCH_PORT)
const names = {
  resolvers: [],
  mayAsk: () => true,
  way: () => ({ host: '127.0.0.1', port }),
} as unknown as NamesContext
let stopping = false
process.on('SIGTERM', () => (stopping = true))
setInterval(() => process.stdout.write(`${process.memoryUsage().rss}\n`), 1000).unref()
const run = makeTargetWatch(names, {
  worker: `bench-${process.pid}`,
  log: () => undefined,
  stopping: () => stopping,
  turns: process.env.FIDES_BENCH_POLITE ? undefined : NO_POLITENESS,
  lookUp: () => Promise.resolve({ ok: true, addresses: ['192.0.2.20'] }),
})
while (!stopping) await run(db)
await db.sequelize.close()
process.exit(0)
