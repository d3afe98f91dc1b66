import type { IncomingMessage, ServerResponse } from 'node:http'
import { finished } from 'node:stream'
import { clientGone } from '../threads/asker'
import { Problem } from '../usecases/problem'

/** So much of a body that is too long is read before its sender is cut off. */
const MAX_PASSED = 200_000_000

/** From here on it matters whether a body is held twice. */
const LONG = 100_000

/** How fast a body must come: any sender has `graceMs`, then the least pace counts for all the time since. */
interface Pace {
  graceMs: number
  minOctetsPerSecond: number
  checkMs: number
}
const PACE: Pace = { graceMs: 10_000, minOctetsPerSecond: 32_768, checkMs: 1000 }

/**
 * Reads a body up to `most` octets and one more, which shows that it is too long. The rest is read and let go, so that
 * the sender gets to read the answer; a sender that goes on beyond all measure, or hardly at all, is cut off.
 */
export function readBody(
  request: IncomingMessage,
  response: ServerResponse,
  most: number,
  { graceMs, minOctetsPerSecond, checkMs }: Pace = PACE,
): Promise<Buffer> {
  // With its length known, its memory is allocated once, and no second copy is needed.
  const told = Number(request.headers['content-length'])
  const whole = told > LONG && told <= most ? Buffer.allocUnsafe(told) : undefined
  const pieces: Buffer[] = []
  let kept = 0
  let passed = 0
  const began = Date.now()
  return new Promise<Buffer>((resolve, reject) => {
    const cutOff = (problem: Problem) => {
      clearInterval(pace)
      request.pause()
      // The answer is sent first; what still comes is not read.
      response.setHeader('Connection', 'close')
      response.once('finish', () => request.destroy())
      reject(problem)
    }
    const pace = setInterval(() => {
      const seconds = (Date.now() - began - graceMs) / 1000
      if (passed < seconds * minOctetsPerSecond)
        cutOff(new Problem(408, 'Too slow', 'The body came too slowly; send it again over a better connection.'))
    }, checkMs)
    const onData = (piece: Buffer) => {
      passed += piece.length
      if (passed > MAX_PASSED)
        return cutOff(
          new Problem(413, 'Too large', `The body is too long: the maximum is ${most.toLocaleString('en')} bytes.`),
        )
      if (kept > most) return
      if (whole) piece.copy(whole, kept)
      else pieces.push(piece)
      kept += piece.length
    }
    const settle = finished(request, { writable: false }, (error) => {
      clearInterval(pace)
      request.off('data', onData)
      settle()
      if (error) return reject(clientGone())
      const octets = whole?.subarray(0, kept) ?? Buffer.concat(pieces)
      resolve(octets.length > most ? octets.subarray(0, most + 1) : octets)
    })
    request.on('data', onData)
  })
}
