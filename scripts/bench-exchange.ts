// npm run bench:exchange: a table of 100,000 rows brought into a register of 100,000 links: how long its proposal, its
// making and its undoing take, how much memory reading it needs, and how long taking all of it out takes.
import { intakeQuery } from '../core/schemas'
import { currentSurvey } from '../server/usecases/conflicts/survey'
import { applyIntake } from '../server/usecases/exchange/apply-intake'
import { makeIntake, readIntake } from '../server/usecases/exchange/intakes'
import { takeOut } from '../server/usecases/exchange/take-out'
import { undo } from '../server/usecases/ledger/undo'
import { BENCH_HOST, fillLinks, round } from './bench-load'
import { childrenMegabytes } from './process-memory'
import { BenchSystem, print } from './bench-system'
import { buildIfChanged } from './build'
import { runCommand } from './run-command'

const LINKS = 100_000
const ROWS = Number(process.argv[2] ?? 100_000)
const POLL_MS = 250
const actor = { memberId: null, name: 'Bench', role: 'administrator' as const }
const written = async (file: ReturnType<typeof takeOut>) => (await file).handle.close()
const pause = (ms: number) => new Promise((done) => setTimeout(done, ms))

const ofOneShape = (stop: number) => `/brought/stop/${stop},https://live.portansel.example/s/${stop},302,`
const pageOf = (page: number) =>
  `/brought/page-${page.toString(36)}-${page % 89},https://www.portansel.example/p/${(page * 7919) % 99_991},301,` +
  `Page ${page}`

/** A table as an organisation has one: pages with titles, a third of one shape, some that stand here already. */
function tableOf(rows: number): Buffer {
  const lines = ['address,destination,status,title']
  for (let index = 0; index < rows; index++) lines.push(index % 3 === 0 ? ofOneShape(10_000 + index) : pageOf(index))
  return Buffer.from(lines.join('\n'))
}

// What is measured is what ships.
process.env.FIDES_BUNDLED_THREADS = 'on'
const system = await BenchSystem.make()
await runCommand(system, async () => {
  buildIfChanged(print)
  const db = await system.startDatabase()
  print(`filling ${LINKS.toLocaleString('en')} links`)
  await fillLinks(system.databaseUrl, 1, LINKS)
  await currentSurvey(db)
  // A file is read in a process of its own.
  let readingMegabytes = 0
  const watch = setInterval(() => (readingMegabytes = Math.max(readingMegabytes, childrenMegabytes(process.pid))), 50)
  // How long this process keeps others waiting meanwhile.
  let longest = 0
  let last = performance.now()
  const beat = setInterval(() => {
    const now = performance.now()
    longest = Math.max(longest, now - last - 5)
    last = now
  }, 5)
  const timed = async <Value>(what: string, work: () => Promise<Value>): Promise<[Value, number, number]> => {
    longest = 0
    const began = performance.now()
    const value = await work()
    const seconds = (performance.now() - began) / 1000
    print(`${what}: ${seconds.toFixed(1)} s, others waited ${longest.toFixed(0)} ms at most`)
    return [value, seconds, longest]
  }
  const octets = tableOf(ROWS)
  const [intake, proposedSeconds, proposedWait] = await timed('proposed', async () => {
    const query = intakeQuery.parse({ name: 'bench.csv', domain: BENCH_HOST })
    const { id } = await makeIntake(db, system.databaseUrl, actor, query, octets)
    for (;;) {
      const now = await readIntake(db, id)
      if (now.state === 'failed') throw new Error(now.problem)
      if (now.state === 'ready') return now
      // As the page asks.
      await pause(POLL_MS)
    }
  })
  clearInterval(watch)
  const { counts } = intake
  const [applied, appliedSeconds, appliedWait] = await timed('brought in', () =>
    applyIntake(db, actor, intake.id, intake.version),
  )
  const [, exportSeconds] = await timed('taken out as JSON', () =>
    written(takeOut(system.databaseUrl, 'json', { domain: BENCH_HOST })),
  )
  const [, nginxSeconds] = await timed('taken out for nginx', () =>
    written(takeOut(system.databaseUrl, 'nginx', { domain: BENCH_HOST })),
  )
  const [, undoneSeconds] = await timed('undone', () =>
    undo(db, {} as never, actor, applied.entry!, { overwrite: false }),
  )
  clearInterval(beat)
  await system.leave()
  const figures = {
    bench: 'exchange',
    rows: ROWS,
    links: LINKS,
    counts,
    proposedSeconds: round(proposedSeconds),
    appliedSeconds: round(appliedSeconds),
    undoneSeconds: round(undoneSeconds),
    exportSeconds: round(exportSeconds),
    nginxSeconds: round(nginxSeconds),
    othersWaitMs: round(Math.max(proposedWait, appliedWait)),
    readingMegabytes: round(readingMegabytes),
  }
  print(JSON.stringify(figures))
  process.exitCode = proposedSeconds > 12 || appliedSeconds > 20 || undoneSeconds > 25 || readingMegabytes > 600 ? 1 : 0
})
