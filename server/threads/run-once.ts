import { Problem } from '../usecases/problem'
import { startThread, type ThreadName } from './start-thread'

/** What a thread that does one thing tells at its end: what came of it, or why nothing did. */
export type Told<Result> =
  { result: Result } | { refused: Pick<Problem, 'status' | 'title' | 'detail' | 'errors'> } | { problem: string }

/** What went wrong within a thread, as it tells it. */
export function toldOf(error: unknown): Told<never> {
  if (!(error instanceof Problem)) return { problem: (error as Error).message }
  const { status, title, detail, errors } = error
  return { refused: { status, title, detail, errors } }
}

/** Runs a thread that does one thing and tells it; one that takes longer than `mostMs` is ended and refused. */
export function runOnce<Result>(
  name: ThreadName,
  workerData: unknown,
  { mostMs, mostMegabytes, late }: { mostMs: number; mostMegabytes: number; late: string },
): Promise<Result> {
  return new Promise((resolve, reject) => {
    const thread = startThread(name, { workerData, resourceLimits: { maxOldGenerationSizeMb: mostMegabytes } })
    const overdue = setTimeout(() => {
      reject(new Problem(422, 'Too much at once', late))
      void thread.terminate()
    }, mostMs)
    thread.on('message', (told: Told<Result>) => {
      if ('result' in told) resolve(told.result)
      else if ('problem' in told) reject(new Error(told.problem))
      else reject(new Problem(told.refused.status, told.refused.title, told.refused.detail, told.refused.errors))
    })
    thread.on('error', reject)
    thread.on('exit', () => {
      clearTimeout(overdue)
      reject(new Error('the thread ended'))
    })
  })
}
