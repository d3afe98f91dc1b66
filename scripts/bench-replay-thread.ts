// One thread of bench:replay: reads the register, puts a proposal to a copy of its table, and replays requests drawn at
// random, one by one, for as many as it is told.
import { parentPort, workerData } from 'node:worker_threads'
import { Replay } from '../core/table'
import { seeded } from '../server/database/seed/chance'
import { openDatabase } from '../server/database/open'
import { tablesFor } from '../server/usecases/replay/tables'
import { BENCH_HOST, slugOf } from './bench-load'

const { url, proposal, links, requests, seed } = workerData as {
  url: string
  proposal: number
  links: number
  requests: number
  seed: number
}

async function run(): Promise<void> {
  const db = openDatabase(url, { poolSize: 2 })
  const { before, after } = await tablesFor(db, { by: 'proposal', proposal, at: Date.now() })
  await db.sequelize.close()
  const random = seeded(seed)
  const replay = new Replay(before, after)
  // As in life: few links have most visits; some ask what a rule takes, some what is not there.
  const targetOf = (): string => {
    const kind = random()
    if (kind < 0.1) return `/family${1 + Math.floor(random() * 190)}/${Math.floor(random() * 5000)}`
    if (kind < 0.15) return `/nothing/${Math.floor(random() * 20_000)}`
    return `/${slugOf(1 + Math.floor(links * random() ** 3))}`
  }
  const targets = Array.from({ length: requests }, targetOf)
  const distinct = new Set(targets).size
  parentPort!.postMessage({ ready: true })
  parentPort!.once('message', () => {
    const began = performance.now()
    for (const target of targets) replay.put({ host: BENCH_HOST, target, language: '', count: 1 })
    const seconds = (performance.now() - began) / 1000
    parentPort!.postMessage({ seconds, distinct, result: replay.told() })
  })
}

void run()
