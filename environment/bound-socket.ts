import net from 'node:net'

/** A socket that is bound and not listening: a process that inherits its descriptor listens on it. */
export interface BoundSocket {
  readonly fd: number
  close(): void
}

type CreateServerHandle = (address: string, port: number, family: 4 | 6) => BoundSocket | number

/**
 * Binds a port for others to listen on, so that it outlives each of them; `undefined` where the address is a name or
 * the system refuses, and whoever listens binds it by itself. Node has no public way to bind without accepting: this is
 * the function by which its own cluster module shares ports (lib/net.js).
 */
export function bindSocket(host: string, port: number): BoundSocket | undefined {
  const family = net.isIP(host)
  const create = (net as unknown as { _createServerHandle?: CreateServerHandle })._createServerHandle
  if (family === 0 || create === undefined) return undefined
  const bound = create(host, port, family as 4 | 6)
  return typeof bound === 'number' ? undefined : bound
}
