import type { Server } from 'node:http'
import { faultInWords } from '../environment/log'

/** Who waits in the kernel while all processes are busy or being changed. */
const BACKLOG = 4096

/**
 * Listens on a port, or on an open descriptor that somebody handed down. Where that fails the process ends with one
 * line.
 */
export function listen(
  server: Server,
  at: number | { fd: number },
  host: string,
  log: (line: string) => void,
): Promise<void> {
  return new Promise((resolve) => {
    server.once('error', (error: NodeJS.ErrnoException) => {
      log(
        error.code === 'EADDRINUSE'
          ? `port ${at as number} on ${host} is in use; set another or stop what uses it`
          : faultInWords(error),
      )
      process.exit(1)
    })
    if (typeof at === 'number') server.listen(at, host, BACKLOG, resolve)
    else server.listen({ fd: at.fd, backlog: BACKLOG }, resolve)
  })
}
