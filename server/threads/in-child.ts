import { availableParallelism } from 'node:os'
import type { ChildProcess } from 'node:child_process'
import { Problem } from '../usecases/problem'
import { clientGone } from './asker'
import { FairTurns } from './fair-turns'
import type { FromCompute, ToCompute } from './compute-process'
import { startChild, whenEnded } from './start-child'
import { WORK, type Input, type Output, type WorkName } from './work'

/** One more than two members can occupy. */
const MAX_CHILDREN = Math.max(3, Math.min(4, availableParallelism()))
/** What one may hold, in megabytes: the largest zone needs half of it. */
const MEMORY = { heap: 160, nursery: 8 }
/** An idle process is ended after this time, which frees its memory. */
const IDLE_MS = 60_000
const DEADLINE_MS = 10_000

const turns = new FairTurns({
  atOnce: MAX_CHILDREN,
  waiting: 40,
  waitingPerAsker: 4,
  what: 'computations',
})
const idle: ChildProcess[] = []

export interface ChildOptions {
  /** What is read or compared, at the begin of a sentence: “The log”. */
  what: string
  /** What would help where that takes too long, as a sentence. */
  instead: string
  deadlineMs?: number
}

/**
 * Runs one of the computations of `work.ts` in a process of its own, so that nobody else waits for it and its memory is
 * not the desk's. Refuses with a problem what takes longer than its deadline or more memory than it may have, and all
 * where too many wait.
 */
export async function inChild<Name extends WorkName>(
  name: Name,
  input: Input<Name>,
  options: ChildOptions,
): Promise<Output<Name>> {
  return turns.run((signal) => run(name, input, options, signal))
}

/** Computes what is short here, as another process would take longer. `bytes` is how much there is to read. */
export async function inChildIfLong<Name extends WorkName>(
  bytes: number,
  name: Name,
  input: Input<Name>,
  options: ChildOptions,
): Promise<Output<Name>> {
  if (bytes <= MAX_SHORT_BYTES) return (WORK[name] as (given: Input<Name>) => Output<Name>)(input)
  return inChild(name, input, options)
}
const MAX_SHORT_BYTES = 32_768

function run<Name extends WorkName>(
  name: Name,
  input: Input<Name>,
  { what, instead, deadlineMs = DEADLINE_MS }: ChildOptions,
  signal: AbortSignal | undefined,
): Promise<Output<Name>> {
  const child = idle.pop() ?? startChild('compute-process', MEMORY)
  hold(child)
  return new Promise((resolve, reject) => {
    const overdue = setTimeout(
      () => end(tooMuch(`${what} took longer than ${deadlineMs / 1000} s and was given up. ${instead}`)),
      deadlineMs,
    )
    const giveUp = () => end(clientGone())
    signal?.addEventListener('abort', giveUp)
    const settle = () => {
      clearTimeout(overdue)
      signal?.removeEventListener('abort', giveUp)
      for (const event of ['message', 'error', 'exit', 'disconnect']) child.removeAllListeners(event)
      // An error after this belongs to no request.
      child.on('error', () => undefined)
    }
    const end = (error: Error) => {
      settle()
      child.kill('SIGKILL')
      reject(error)
    }
    child.once('message', (answer: FromCompute) => {
      settle()
      keep(child)
      if (answer.ok) resolve(answer.output as Output<Name>)
      else reject(new Error(answer.message))
    })
    child.once('error', end)
    whenEnded(child, ({ isFull }) =>
      end(
        isFull
          ? tooMuch(`${what} needs more memory than one computation may have. ${instead}`)
          : new Error(`the process for ${name} ended`),
      ),
    )
    child.send({ name, input } satisfies ToCompute)
  })
}

const tooMuch = (detail: string) => new Problem(422, 'Too large', detail)

/** Keeps this process running while a child works; an idle child does not. */
function hold(child: ChildProcess): void {
  child.ref()
  child.channel?.ref()
}

/** Keeps a child for the next, and ends it when none comes. */
function keep(child: ChildProcess): void {
  child.unref()
  child.channel?.unref()
  idle.push(child)
  const forget = () => {
    const at = idle.indexOf(child)
    if (at >= 0) idle.splice(at, 1)
    return at >= 0
  }
  child.once('exit', forget)
  setTimeout(() => {
    if (forget()) child.kill('SIGKILL')
  }, IDLE_MS).unref()
}
