import { setPriority } from 'node:os'

/** A niceness at which a page that somebody waits for comes first, and long work still gets on. */
const GIVES_WAY = 5

/**
 * Has the thread it is called in give way to all others. On Linux a priority is a thread's, and 0 names the one that
 * calls (setpriority(2), NOTES); elsewhere it would be that of the whole process, and is left as it is.
 */
export function giveWay(): void {
  if (process.platform !== 'linux') return
  try {
    setPriority(0, GIVES_WAY)
  } catch {
    // A system that refuses leaves it as it was.
  }
}
