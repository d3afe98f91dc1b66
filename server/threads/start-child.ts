import { fork, type ChildProcess } from 'node:child_process'
import { createRequire } from 'node:module'
import { pathToFileURL } from 'node:url'
import { programOf, type ProcessName } from './start-thread'

/** What a child may hold, in megabytes. */
export interface ChildMemory {
  heap: number
  /** Each half of where objects begin. */
  nursery: number
}

/**
 * Starts a process for work that needs much memory: the memory goes back to the system when it ends, and one that
 * runs out of it harms nothing else. `work` is its first message, where there is one already.
 */
export function startChild(name: ProcessName, { heap, nursery }: ChildMemory, work?: object): ChildProcess {
  const program = programOf(name)
  const sources = program.endsWith('.ts')
    ? ['--import', pathToFileURL(createRequire(import.meta.url).resolve('tsx')).href]
    : []
  const child = fork(program, [], {
    execArgv: [`--max-old-space-size=${heap}`, `--max-semi-space-size=${nursery}`, ...sources],
    // Its faults are told by its messages and its end.
    stdio: ['ignore', 'ignore', 'ignore', 'ipc'],
    serialization: 'advanced',
  })
  if (work) child.send(work)
  return child
}

/** How a process ended; `isFull` where its heap was full, on which V8 aborts. */
export interface ChildEnd {
  isFull: boolean
}

/** Tells of a process's end once all its messages were read: the end may be known before a long message is. */
export function whenEnded(child: ChildProcess, then: (end: ChildEnd) => void): void {
  child.once('exit', (code, signal) => {
    const end = { isFull: signal === 'SIGABRT' || code === 134 }
    if (child.connected) child.once('disconnect', () => then(end))
    else then(end)
  })
}
