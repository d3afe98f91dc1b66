// npm run bench:changes: a change to 20,000 of 100,000 links: how long its preview, its making and its undoing take,
// and how long others who edit meanwhile wait.
import { proposalCreate } from '../core/schemas'
import { makeChange, makeProposal, readProposal } from '../server/usecases/changes/proposals'
import { undo } from '../server/usecases/ledger/undo'
import { changeLink } from '../server/usecases/links/change-link'
import { currentSurvey } from '../server/usecases/conflicts/survey'
import { openDatabase } from '../server/database/open'
import { spawn } from 'node:child_process'
import { fillLinks, quantile, round } from './bench-load'
import { BenchSystem, print } from './bench-system'
import { buildIfChanged } from './build'
import { runCommand } from './run-command'

const LINKS = 100_000
const CHANGED = 20_000
const EDITOR = process.argv[2] === 'editor'
const actor = { memberId: null, name: 'Bench', role: 'administrator' as const }
const pause = (ms: number) => new Promise((done) => setTimeout(done, ms))

/** Edits links that the change does not touch, one after the other, in a process of its own; tells what each took. */
async function edit(url: string): Promise<void> {
  const db = openDatabase(url, { poolSize: 4 })
  await changeLink(db, actor, LINKS, 1, { title: 'warm', reason: 'bench' })
  process.send!('ready')
  let going = true
  process.on('message', () => (going = false))
  const waits: number[] = []
  for (let number = 0; going; number++) {
    // Every fifth link is changed; these are not.
    const id = 2 + 5 * (number % 10_000)
    const link = await db.Link.findByPk(id)
    const began = performance.now()
    await changeLink(db, actor, id, link!.version, { title: `edited ${number}`, reason: 'bench' })
    waits.push(performance.now() - began)
    await pause(20)
  }
  process.send!(waits)
  await db.sequelize.close()
  process.disconnect()
}

if (EDITOR) await edit(process.env.FIDES_BENCH_URL!)
else {
  const system = await BenchSystem.make()
  await runCommand(system, async () => {
    buildIfChanged(print)
    const db = await system.startDatabase()
    print(`filling ${LINKS.toLocaleString('en')} links`)
    await fillLinks(system.databaseUrl, 1, LINKS)
    // As the desk has it from its start on.
    await currentSurvey(db)
    const editor = spawn(process.execPath, ['--import', 'tsx', 'scripts/bench-changes.ts', 'editor'], {
      stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
      env: { ...process.env, FIDES_BENCH_URL: system.databaseUrl },
    })
    const heard = () => new Promise<unknown>((done) => editor.once('message', done))
    await heard()
    const timed = async <Value>(work: () => Promise<Value>): Promise<[Value, number]> => {
      const began = performance.now()
      const value = await work()
      return [value, round((performance.now() - began) / 1000, 2)]
    }
    const links = Array.from({ length: CHANGED }, (_, index) => 1 + 5 * index)
    const input = proposalCreate.parse({
      select: { links },
      change: { steps: [{ do: 'move-host', from: 'live.portanseltransit.example', to: 'new.example' }] },
      reason: 'bench',
    })
    const [proposal, previewSeconds] = await timed(async () => {
      const made = await makeProposal(db, actor, input)
      let now = await readProposal(db, made.id)
      for (; now.state === 'computing'; now = await readProposal(db, made.id)) await pause(50)
      return now
    })
    print(`preview: ${previewSeconds} s, ${proposal.counts.change} changes`)
    const [applied, applySeconds] = await timed(() => makeChange(db, actor, proposal.id, proposal.version))
    print(`made: ${applySeconds} s`)
    const [, undoSeconds] = await timed(() =>
      undo(db, {} as never, actor, applied.entry!, { overwrite: false, reason: 'bench' }),
    )
    print(`undone: ${undoSeconds} s`)
    await pause(3000)
    editor.send('stop')
    const waits = (await heard()) as number[]
    await system.leave()
    const figures = {
      bench: 'changes',
      links: LINKS,
      changed: proposal.counts.change,
      previewSeconds,
      applySeconds,
      undoSeconds,
      edits: waits.length,
      editP50Ms: round(quantile(waits, 0.5), 0),
      editP99Ms: round(quantile(waits, 0.99), 0),
      longestEditMs: round(Math.max(...waits), 0),
    }
    print(JSON.stringify(figures))
    process.exitCode = previewSeconds > 10 || applySeconds > 15 || figures.longestEditMs > 300 ? 1 : 0
  })
}
