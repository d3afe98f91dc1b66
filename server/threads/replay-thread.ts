import { parentPort, workerData } from 'node:worker_threads'
import { Replay, type Replayed } from '../../core/table'
import { openDatabase } from '../database/open'
import { pastRequests, type Period, type Share } from '../usecases/replay/past-requests'
import { tablesFor, type ReplayTables } from '../usecases/replay/tables'

/** What a replaying thread is told when it starts. */
export interface ReplayWork {
  databaseUrl: string
  period: Period
  share: Share
  tables: ReplayTables
}

/** How many requests it has put, and at the end what came of them. */
export type FromReplay = { done: number } | { result: Replayed } | { problem: string }

const tell = (message: FromReplay) => parentPort!.postMessage(message)

async function work({ databaseUrl, period, share, tables }: ReplayWork): Promise<void> {
  const db = openDatabase(databaseUrl, { poolSize: 2 })
  try {
    const { before, after } = await tablesFor(db, tables)
    const replay = new Replay(before, after)
    let done = 0
    for await (const requests of pastRequests(db, period, share)) {
      for (const request of requests) replay.put(request)
      done += requests.length
      tell({ done })
    }
    tell({ result: replay.told() })
  } catch (error) {
    tell({ problem: (error as Error).message })
  } finally {
    await db.sequelize.close()
  }
}

void work(workerData as ReplayWork)
