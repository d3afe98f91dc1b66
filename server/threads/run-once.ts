import { Problem } from '../usecases/problem'
import { clientGone } from './asker'
import { startChild, whenEnded } from './start-child'
import type { ProcessName } from './start-thread'

/** The last message of a process that does one thing: its result, or why there is none. */
export type Told<Result> =
  { result: Result } | { refused: Pick<Problem, 'status' | 'title' | 'detail' | 'errors'> } | { problem: string }

/** What went wrong within a process, as it tells it. */
export function toldOf(error: unknown): Told<never> {
  if (!(error instanceof Problem)) return { problem: (error as Error).message }
  const { status, title, detail, errors } = error
  return { refused: { status, title, detail, errors } }
}

export interface OnceOptions {
  mostMs: number
  mostMegabytes: number
  /** What is said where it takes longer. */
  late: string
  /** Ends the process once its client is gone. */
  signal?: AbortSignal
}

/** Runs a process that does one thing and tells it; one that takes longer than `mostMs` is ended and refused. */
export function runOnce<Result>(
  name: ProcessName,
  work: object,
  { mostMs, mostMegabytes, late, signal }: OnceOptions,
): Promise<Result> {
  return new Promise((resolve, reject) => {
    const child = startChild(name, { heap: mostMegabytes, nursery: 16 }, work)
    const end = (problem: Problem) => {
      reject(problem)
      child.kill('SIGKILL')
    }
    const giveUp = () => end(clientGone())
    signal?.addEventListener('abort', giveUp)
    const overdue = setTimeout(() => end(new Problem(422, 'Too much at once', late)), mostMs)
    child.on('message', (told: Told<Result>) => {
      if ('result' in told) resolve(told.result)
      else reject(errorOf(told))
    })
    child.on('error', reject)
    whenEnded(child, ({ isFull }) => {
      clearTimeout(overdue)
      signal?.removeEventListener('abort', giveUp)
      reject(isFull ? new Problem(422, 'Too much at once', late) : new Error('the process ended'))
    })
  })
}

/** The error that a process reported. */
const errorOf = (told: Told<never>): Error =>
  'refused' in told
    ? new Problem(told.refused.status, told.refused.title, told.refused.detail, told.refused.errors)
    : new Error('problem' in told ? told.problem : '')
