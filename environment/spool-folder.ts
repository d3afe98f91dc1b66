import { randomBytes } from 'node:crypto'
import { readFileSync } from 'node:fs'
import { join } from 'node:path'

/** The ending of a segment in hand, and of one that waits as a batch. */
export const OPEN = '.open'
export const READY = '.ready'

/** Where all gateways of a machine keep their segments. */
export const spoolFolder = (state: string): string => join(state, 'spool')

/**
 * When a process of this machine started, in clock ticks since boot (proc(5), field 22 of stat); `undefined` where no
 * such process lives. Told together with the number, since numbers come again.
 */
function startOf(pid: number | 'self'): string | undefined {
  try {
    const stat = readFileSync(`/proc/${pid}/stat`, 'latin1')
    // The name of the program stands in parentheses and may hold anything.
    const fields = stat.slice(stat.lastIndexOf(')') + 2).split(' ')
    // A process that ended and was not waited for yet writes no more.
    return fields[0] === 'Z' ? undefined : fields[19]
  } catch {
    return undefined
  }
}

/** What one run of a process puts before its segments' numbers: who writes them, and a word never used again. */
export const segmentPrefix = (): string =>
  `${process.pid}.${startOf('self') ?? '0'}-${Date.now().toString(36)}-${randomBytes(6).toString('hex')}`

/** Whether the process that writes a segment still lives; `undefined` where its name does not say who that is. */
export function writerLives(segment: string): boolean | undefined {
  const match = /^(\d+)\.(\d+)-/.exec(segment)
  if (!match || match[2] === '0') return undefined
  return startOf(Number(match[1])) === match[2]
}
