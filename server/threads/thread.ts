import { parentPort } from 'node:worker_threads'
import { WORK, type WorkName } from './work'

/** What a thread is told, and what it tells. */
export interface ToThread {
  name: WorkName
  input: unknown
}
export type FromThread = { ok: true; output: unknown } | { ok: false; message: string }

parentPort!.on('message', ({ name, input }: ToThread) => {
  let told: FromThread
  try {
    told = { ok: true, output: (WORK[name] as (given: unknown) => unknown)(input) }
  } catch (error) {
    told = { ok: false, message: (error as Error).message }
  }
  parentPort!.postMessage(told)
})
