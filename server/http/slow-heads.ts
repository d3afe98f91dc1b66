import { subscribe, unsubscribe } from 'node:diagnostics_channel'
import type { IncomingMessage, ServerResponse } from 'node:http'
import type { Socket } from 'node:net'

/**
 * Ends connections of this process’s servers on which no head of a request is whole within `headMs`: after they were
 * opened, and after each answer. Node.js by itself waits for a minute, and looks twice a minute. Returns what stops it.
 */
export function endSlowHeads(headMs: number): () => void {
  const timers = new WeakMap<Socket, NodeJS.Timeout>()
  /** Requests under way; a client may send the next one before the answer (RFC 9112 §9.3.2). */
  const underWay = new WeakMap<Socket, number>()
  const count = (socket: Socket, by: number) => {
    const now = (underWay.get(socket) ?? 0) + by
    underWay.set(socket, now)
    return now
  }
  const wait = (socket: Socket) => {
    clearTimeout(timers.get(socket))
    timers.set(socket, setTimeout(() => socket.destroy(), headMs).unref())
  }
  const opened = (message: unknown) => wait((message as { socket: Socket }).socket)
  const begun = (message: unknown) => {
    const { socket } = (message as { request: IncomingMessage }).request
    count(socket, 1)
    clearTimeout(timers.get(socket))
  }
  const answered = (message: unknown) => {
    const { request, response } = message as { request: IncomingMessage; response: ServerResponse }
    const left = count(request.socket, -1)
    if (left === 0 && response.shouldKeepAlive && !request.socket.destroyed) wait(request.socket)
  }
  const channels = [
    ['net.server.socket', opened],
    ['http.server.request.start', begun],
    ['http.server.response.finish', answered],
  ] as const
  for (const [name, listener] of channels) subscribe(name, listener)
  return () => {
    for (const [name, listener] of channels) unsubscribe(name, listener)
  }
}
