import { intakeQuery } from '../core/schemas'
import { computeIntake } from '../server/usecases/exchange/compute-intake'
import { createIntakeForTest } from './zz-make'
import { BENCH_HOST, fillLinks } from './bench-load'
import { BenchSystem, print } from './bench-system'
import { runCommand } from './system'
import { Session } from 'node:inspector/promises'
import { writeFileSync } from 'node:fs'
const system = await BenchSystem.make()
await runCommand(system, async () => {
  const db = await system.startDatabase()
  await fillLinks(system.databaseUrl, 1, 100_000)
  const query = intakeQuery.parse({ name: 'bench.csv', domain: BENCH_HOST })
  const intake = await createIntakeForTest(db, query)
  const session = new Session(); session.connect()
  if (process.env.PROF) { await session.post('Profiler.enable'); await session.post('Profiler.start') }
  let last = ''; let t = performance.now(); const t0 = t
  await computeIntake(db, intake, async (step) => { if (step !== last) { const n = performance.now(); print(`${last} ${(n - t).toFixed(0)}`); last = step; t = n } })
  print(`${last} ${(performance.now() - t).toFixed(0)}; all ${(performance.now()-t0).toFixed(0)}`)
  if (process.env.PROF) { const { profile } = await session.post('Profiler.stop')
  writeFileSync('/tmp/prof/intake.cpuprofile', JSON.stringify(profile)) }
})
process.exit(0)
