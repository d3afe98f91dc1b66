// npm run bench:replay: how many requests a second two threads replay on 100,000 links with 200 rules, and whether what
// they say of 10,000 of them is what the gateway itself answers before and after the change.
import { Agent, request } from 'node:http'
import { createRequire } from 'node:module'
import { resolve } from 'node:path'
import { Worker } from 'node:worker_threads'
import { proposalCreate } from '../core/schemas'
import { FATES, joinReplayed, Replay, type Fate, type Replayed } from '../core/table'
import { makeChange, makeProposal, readProposal } from '../server/usecases/changes/proposals'
import { tablesFor } from '../server/usecases/replay/tables'
import { seeded } from '../server/database/seed/chance'
import { BENCH_HOST, fillLinks, slugOf } from './bench-load'
import { BenchSystem, print } from './bench-system'
import { buildIfChanged } from './build'
import { untilAnswers } from './processes'
import { runCommand } from './run-command'

const LINKS = 100_000
const RULES = 200
const REQUESTS = 3_000_000
const SAMPLE = 10_000
const CHANGED = 20_000
const actor = { memberId: null, name: 'Bench', role: 'administrator' as const }

const system = await BenchSystem.make()
const pause = (ms: number) => new Promise((done) => setTimeout(done, ms))

interface Answer {
  status: number
  location: string | null
}

/** Asks the gateway itself for each target. */
async function askAll(targets: readonly string[]): Promise<Answer[]> {
  const agent = new Agent({ keepAlive: true, maxSockets: 16 })
  const answers: Answer[] = Array<Answer>(targets.length)
  let next = 0
  const work = async () => {
    for (let at = next++; at < targets.length; at = next++)
      answers[at] = await new Promise<Answer>((done, failed) =>
        request(
          {
            host: '127.0.0.1',
            port: system.settings.FIDES_GATEWAY_PORT,
            path: targets[at],
            agent,
            headers: { host: BENCH_HOST },
          },
          (response) => {
            response
              .resume()
              .on('end', () => done({ status: response.statusCode!, location: response.headers.location ?? null }))
          },
        )
          .on('error', failed)
          .end(),
      )
  }
  await Promise.all(Array.from({ length: 16 }, work))
  agent.destroy()
  return answers
}

/** What became of a request, by the gateway's own two answers. */
function fateBy(before: Answer, after: Answer): Fate {
  const found = ({ status }: Answer) => status < 400
  if (found(before) && !found(after)) return 'lost'
  if (!found(before)) return found(after) ? 'served' : 'missing'
  if (before.location !== after.location) return 'elsewhere'
  return before.status === after.status ? 'same' : 'status'
}

await runCommand(system, async () => {
  buildIfChanged(print)
  const db = await system.startDatabase()
  print(`filling ${LINKS.toLocaleString('en')} links`)
  await fillLinks(system.databaseUrl, 1, LINKS)
  const now = new Date()
  await db.Rule.bulkCreate(
    Array.from({ length: RULES }, (_, index) => ({
      domainId: 1,
      position: index + 1,
      title: '',
      syntax: 'path' as const,
      status: 302 as const,
      active: true,
      note: '',
      createdAt: now,
      updatedAt: now,
      pattern: [`/family${index}/:id`, `/part${index}/:a/:b(\\d+)?`, `/page${index}{-:x}?.html`][index % 3]!,
      destination: `https://www.portanseltransit.example/family/${index}`,
    })),
  )
  system.start('gateway', ['dist/gateway.mjs'])
  await untilAnswers(
    `${system.control}/health`,
    120_000,
    async (response) => ((await response.json()) as { links: number }).links === LINKS,
  )
  const links = Array.from({ length: CHANGED }, (_, index) => 1 + index * Math.floor(LINKS / CHANGED))
  const made = await makeProposal(
    db,
    actor,
    proposalCreate.parse({
      select: { links },
      change: { steps: [{ do: 'move-host', from: 'live.portanseltransit.example', to: 'new.example' }] },
      reason: 'bench',
    }),
  )
  let proposal = await readProposal(db, made.id)
  for (; proposal.state === 'computing'; proposal = await readProposal(db, made.id)) await pause(50)

  const load = `require(${JSON.stringify(createRequire(import.meta.url).resolve('tsx/cjs'))})
    require(${JSON.stringify(resolve('scripts/bench-replay-thread.ts'))})`
  const threads = [1, 2].map(
    (seed) =>
      new Worker(load, {
        eval: true,
        workerData: { url: system.databaseUrl, proposal: made.id, links: LINKS, requests: REQUESTS, seed },
      }),
  )
  const told = (thread: Worker) =>
    new Promise<never>((done, failed) => thread.once('message', done).once('error', failed))
  await Promise.all(threads.map(told))
  const began = performance.now()
  const results = threads.map((thread) => told(thread) as Promise<{ distinct: number; result: Replayed }>)
  for (const thread of threads) thread.postMessage('go')
  const replayed = await Promise.all(results)
  const seconds = (performance.now() - began) / 1000
  for (const thread of threads) await thread.terminate()
  const joined = joinReplayed(replayed.map(({ result }) => result))

  const random = seeded(4117)
  const sample = Array.from({ length: SAMPLE }, () => {
    const kind = random()
    if (kind < 0.2) return `/family${1 + Math.floor(random() * 190)}/${Math.floor(random() * 5000)}`
    if (kind < 0.3) return `/nothing/${Math.floor(random() * 20_000)}`
    return `/${slugOf(1 + Math.floor(LINKS * random()))}`
  })
  const { before, after } = await tablesFor(db, { by: 'proposal', proposal: made.id, at: Date.now() })
  const says = sample.map((target) => {
    const replay = new Replay(before, after)
    replay.put({ host: BENCH_HOST, target, language: '', count: 1 })
    const { counts } = replay.told()
    return FATES.find((fate) => counts[fate] === 1)!
  })
  const asked = await askAll(sample)
  await makeChange(db, actor, made.id, proposal.version)
  const revision = Number((await db.Organisation.findByPk(1))!.revision)
  await untilAnswers(
    `${system.control}/health`,
    60_000,
    async (response) => ((await response.json()) as { revision: number }).revision === revision,
  )
  await pause(2500)
  const askedAfter = await askAll(sample)
  const wrong = sample.filter((_, at) => says[at] !== fateBy(asked[at]!, askedAfter[at]!))
  for (const target of wrong.slice(0, 10)) print(`not as the gateway: ${target}`)
  await system.leave()
  print(
    JSON.stringify({
      bench: 'replay',
      links: LINKS,
      rules: RULES,
      requests: joined.requests,
      distinct: replayed.map(({ distinct }) => distinct),
      seconds: Number(seconds.toFixed(2)),
      perSecond: Math.round(joined.requests / seconds),
      counts: joined.counts,
      sample: SAMPLE,
      notAsTheGateway: wrong.length,
    }),
  )
  process.exitCode = wrong.length > 0 || joined.requests / seconds < 1_000_000 ? 1 : 0
})
