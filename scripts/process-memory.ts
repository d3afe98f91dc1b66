// What processes hold, as the kernel tells it (proc(5)).
import { readFileSync } from 'node:fs'

/** What a process holds now, in megabytes; 0 where it ended. */
export function megabytesOf(pid: number): number {
  try {
    return Number(/VmRSS:\s+(\d+) kB/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0) / 1024
  } catch {
    return 0
  }
}

/** What the Node.js processes that a process started hold now, in megabytes. */
export function childrenMegabytes(pid: number): number {
  let children: string
  try {
    children = readFileSync(`/proc/${pid}/task/${pid}/children`, 'utf8')
  } catch {
    return 0
  }
  const isNode = (child: number) => {
    try {
      return readFileSync(`/proc/${child}/comm`, 'utf8').startsWith('node')
    } catch {
      return false
    }
  }
  return children
    .trim()
    .split(' ')
    .map(Number)
    .filter((child) => child > 0 && isNode(child))
    .reduce((sum, child) => sum + megabytesOf(child), 0)
}
