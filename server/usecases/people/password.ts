// eslint-disable-next-line @typescript-eslint/triple-slash-reference -- the desk's own check takes no other way to it
/// <reference path="./phc-format.d.ts" />
import { randomBytes, scrypt, timingSafeEqual } from 'node:crypto'
import { promisify } from 'node:util'
import { deserialize, serialize } from '@phc/format'
import pLimit from 'p-limit'
import { Problem } from '../problem'

const scryptOf = promisify<string, Buffer, number, { N: number; r: number; p: number; maxmem: number }, Buffer>(scrypt)

// N, r and p of the OWASP Password Storage Cheat Sheet's scrypt row (2^17, 8, 1 halved in memory for p = 2).
const COST = { N: 2 ** 16, r: 8, p: 2 }
const KEY_BYTES = 32

/** Each takes 64 MB and a thread of the pool that files and look-ups need as well. */
const AT_ONCE = 2
const MAX_WAITING = 30
const limit = pLimit(AT_ONCE)

/** Derives a key, two at a time; the next ones wait, and where too many wait it is refused with 503. */
function derive(...input: Parameters<typeof scryptOf>): Promise<Buffer> {
  if (limit.pendingCount >= MAX_WAITING)
    throw new Problem(503, 'Too much at once', 'Too many people sign in at this moment; try again in a few seconds.')
  return limit(() => scryptOf(...input))
}

/** Hashes a password with scrypt (RFC 7914) into a PHC string (github.com/P-H-C): it carries its salt and cost. */
export async function hashPassword(password: string): Promise<string> {
  const salt = randomBytes(16)
  const hash = await derive(password.normalize('NFKC'), salt, KEY_BYTES, { ...COST, maxmem: 256 * COST.N * COST.r })
  return serialize({ id: 'scrypt', params: { n: COST.N, r: COST.r, p: COST.p }, salt, hash })
}

/** Whether a password is the one hashed; takes as long for a wrong one. */
export async function verifyPassword(password: string, hash: string): Promise<boolean> {
  const stored = readHash(hash)
  if (!stored) return false
  const key = await derive(password.normalize('NFKC'), stored.salt, stored.hash.length, stored.cost)
  return timingSafeEqual(key, stored.hash)
}

function readHash(text: string) {
  try {
    // Those of earlier releases have Base64's alphabet for URLs.
    const { id, params, salt, hash } = deserialize(text.replaceAll('-', '+').replaceAll('_', '/'))
    const [N, r, p] = [Number(params?.n), Number(params?.r), Number(params?.p)]
    if (id !== 'scrypt' || !salt || !hash || !(N > 0 && r > 0 && p > 0)) return undefined
    return { salt, hash, cost: { N, r, p, maxmem: 256 * N * r } }
  } catch {
    return undefined
  }
}
