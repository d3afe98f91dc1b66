import { createHmac, hkdfSync } from 'node:crypto'

/** A key for one use, derived from the installation's secret (HKDF, RFC 5869). */
export const deriveKey = (secret: string, use: 'sealing' | 'reach'): Buffer =>
  Buffer.from(hkdfSync('sha256', secret, 'fides', use, 32))

/** Where the gateway proves that a name reaches it; below /.well-known/ (RFC 8615), which belongs to the gateway. */
export const REACH_PATH = '/.well-known/fides/'
const NONCE = /^[A-Za-z0-9_-]{16,64}$/

/** The once-used word of a reach check in a request's path; `undefined` where there is none. */
export function readReachNonce(path: string): string | undefined {
  const nonce = path.slice(REACH_PATH.length)
  return path.startsWith(REACH_PATH) && NONCE.test(nonce) ? nonce : undefined
}

/** What only this installation can answer to a nonce asked under a host name. */
export const reachProof = (reachKey: Buffer, host: string, nonce: string): string =>
  createHmac('sha256', reachKey).update(`${host}\n${nonce}`).digest('base64url')
