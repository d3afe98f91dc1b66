import { availableParallelism, constants, setPriority } from 'node:os'
import { parentPort, workerData } from 'node:worker_threads'
import type { Movers, Traffic, TrafficQuery } from '../../core/schemas'
import { openDatabase } from '../database/open'
import { answerTraffic } from '../usecases/traffic/answer-traffic'
import { Cancelled } from '../usecases/traffic/count-period'
import { findMovers } from '../usecases/traffic/find-movers'
import { SecondThread } from '../usecases/traffic/second-thread'
import { VisitStore } from '../usecases/traffic/visit-store'
import { Problem, type FieldFault } from '../usecases/problem'

/** What the thread that counts visits is asked. */
export type ToTraffic =
  | { id: number; ask: 'traffic'; query: TrafficQuery }
  | { id: number; ask: 'movers'; days: number }
  | { id: number; ask: 'cancel' }

export type FromTraffic =
  | { id: number; answer: Traffic | Movers }
  | { id: number; problem: { status: number; title: string; detail: string; errors: FieldFault[] } }
  | { id: number; cancelled: true }

// Visitors and people at the desk come first. Of one thread among others this lowers the thread alone (Linux).
setPriority(constants.priority.PRIORITY_BELOW_NORMAL)

const store = new VisitStore(
  openDatabase((workerData as { databaseUrl: string }).databaseUrl, { poolSize: 3 }),
  availableParallelism() > 1 ? new SecondThread() : undefined,
)
const cancelled = new Set<number>()
const tell = (message: FromTraffic) => parentPort!.postMessage(message)

async function answer(message: Exclude<ToTraffic, { ask: 'cancel' }>): Promise<void> {
  const { id } = message
  const isCancelled = () => cancelled.has(id)
  try {
    const given =
      message.ask === 'traffic'
        ? await answerTraffic(store, message.query, { cancelled: isCancelled })
        : await findMovers(store, message.days, { cancelled: isCancelled })
    tell({ id, answer: given })
  } catch (error) {
    if (error instanceof Cancelled) tell({ id, cancelled: true })
    else if (error instanceof Problem)
      tell({
        id,
        problem: { status: error.status, title: error.title, detail: error.message, errors: [...error.errors] },
      })
    else tell({ id, problem: { status: 503, title: 'Cannot count now', detail: (error as Error).message, errors: [] } })
  } finally {
    cancelled.delete(id)
  }
}

parentPort!.on('message', (message: ToTraffic) => {
  if (message.ask === 'cancel') cancelled.add(message.id)
  else void answer(message)
})
