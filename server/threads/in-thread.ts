import { availableParallelism } from 'node:os'
import type { Worker } from 'node:worker_threads'
import pLimit from 'p-limit'
import { Problem } from '../usecases/problem'
import { startThread } from './start-thread'
import type { FromThread, ToThread } from './thread'
import { WORK, type Input, type Output, type WorkName } from './work'

/** So many run at once; more wait, but not without end. */
const THREADS = Math.max(1, Math.min(2, availableParallelism()))
const MAX_WAITING = 40
/** What one thread may hold, in megabytes: the largest zone needs a quarter of it. */
const MAX_MEGABYTES = 512
/** A thread nobody needs is ended. */
const IDLE_MS = 60_000
const DEADLINE_MS = 10_000

const turns = pLimit(THREADS)
const idle: Worker[] = []

export interface ThreadOptions {
  /** What is read or compared, at the begin of a sentence: “The log”. */
  what: string
  /** What would help where that takes too long, as a sentence. */
  instead: string
  deadlineMs?: number
  /** Octets are handed over to the thread and gone here. */
  handOver?: ArrayBuffer[]
}

/**
 * Runs one of the computations of `work.ts` in a thread, so that nobody else waits for it. Refuses with a problem what
 * takes longer than its deadline or more memory than a thread may have, and all where too many wait.
 */
export async function inThread<Name extends WorkName>(
  name: Name,
  input: Input<Name>,
  options: ThreadOptions,
): Promise<Output<Name>> {
  if (turns.pendingCount >= MAX_WAITING)
    throw new Problem(503, 'Busy', 'Too many long computations wait already; try again in a minute.')
  return turns(() => run(name, input, options))
}

/** What is short is done at once: a thread would take longer. `octets` is how much there is to read. */
export async function inThreadIfLong<Name extends WorkName>(
  octets: number,
  name: Name,
  input: Input<Name>,
  options: ThreadOptions,
): Promise<Output<Name>> {
  if (octets <= SHORT_OCTETS) return (WORK[name] as (given: Input<Name>) => Output<Name>)(input)
  return inThread(name, input, options)
}
const SHORT_OCTETS = 32_768

function run<Name extends WorkName>(
  name: Name,
  input: Input<Name>,
  { what, instead, deadlineMs = DEADLINE_MS, handOver = [] }: ThreadOptions,
): Promise<Output<Name>> {
  const thread = idle.pop() ?? startThread('thread', { resourceLimits: { maxOldGenerationSizeMb: MAX_MEGABYTES } })
  thread.ref()
  return new Promise((resolve, reject) => {
    const overdue = setTimeout(
      () => end(tooMuch(`${what} took longer than ${deadlineMs / 1000} s and was given up. ${instead}`)),
      deadlineMs,
    )
    const settle = () => {
      clearTimeout(overdue)
      thread.removeAllListeners('message').removeAllListeners('error').removeAllListeners('exit')
      // Its end, whenever it comes, is nobody's matter any more.
      thread.on('error', () => undefined)
    }
    const end = (error: Error) => {
      settle()
      void thread.terminate()
      reject(error)
    }
    thread.on('message', (told: FromThread) => {
      settle()
      keep(thread)
      if (told.ok) resolve(told.output as Output<Name>)
      else reject(new Error(told.message))
    })
    thread.on('error', (error: NodeJS.ErrnoException) =>
      end(
        error.code === 'ERR_WORKER_OUT_OF_MEMORY'
          ? tooMuch(`${what} needs more memory than one computation may have. ${instead}`)
          : error,
      ),
    )
    thread.on('exit', () => end(new Error(`the thread for ${name} ended`)))
    thread.postMessage({ name, input } satisfies ToThread, handOver)
  })
}

const tooMuch = (detail: string) => new Problem(422, 'Too much at once', detail)

/** Keeps a thread for the next, and ends it when none comes. */
function keep(thread: Worker): void {
  thread.unref()
  idle.push(thread)
  setTimeout(() => {
    const at = idle.indexOf(thread)
    if (at === -1 || idle.length === 0) return
    idle.splice(at, 1)
    void thread.terminate()
  }, IDLE_MS).unref()
}
