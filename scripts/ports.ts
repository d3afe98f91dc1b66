import { connect, createServer } from 'node:net'

/** Whether nothing listens on a port of an address of this machine. */
export function portIsFree(port: number, host = '127.0.0.1'): Promise<boolean> {
  return new Promise((resolve) => {
    const probe = createServer()
    probe.once('error', () => resolve(false))
    probe.listen({ port, host, exclusive: true }, () => probe.close(() => resolve(true)))
  })
}

/** Rejects with one line that names each port in use, what it is for and how to choose another. */
export async function requirePorts(
  ports: { port: number; host?: string; use: string; variable: string }[],
): Promise<void> {
  const taken: string[] = []
  for (const { port, host, use, variable } of ports) {
    if (!(await portIsFree(port, host)))
      taken.push(`port ${port} for ${use} is in use; stop what uses it or set ${variable}`)
  }
  if (taken.length > 0) throw new Error(taken.join('; ') + '.')
}

/** A loopback port that is free now. */
export function freePort(): Promise<number> {
  return new Promise((resolve, reject) => {
    const probe = createServer()
    probe.once('error', reject)
    probe.listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as { port: number }
      probe.close(() => resolve(port))
    })
  })
}

/** Whether something listens on a port of an address of this machine. */
export const portListens = (port: number, host = '127.0.0.1'): Promise<boolean> =>
  new Promise((resolve) => {
    const socket = connect({ port, host, timeout: 2000 }, () => {
      socket.destroy()
      resolve(true)
    })
    socket.on('error', () => resolve(false)).on('timeout', () => resolve(false))
  })
