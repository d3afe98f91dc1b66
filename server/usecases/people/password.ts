import { randomBytes, scrypt, timingSafeEqual } from 'node:crypto'
import { promisify } from 'node:util'
import pLimit from 'p-limit'
import { Problem } from '../problem'

const scryptOf = promisify<string, Buffer, number, { N: number; r: number; p: number; maxmem: number }, Buffer>(scrypt)

// N, r and p of the OWASP Password Storage Cheat Sheet's scrypt row (2^17, 8, 1 halved in memory for p = 2).
const COST = { N: 2 ** 16, r: 8, p: 2 }
const KEY_BYTES = 32

/** Each takes 64 MB and a thread of the pool that files and look-ups need as well. */
const AT_ONCE = 2
const MOST_WAITING = 30
const limit = pLimit(AT_ONCE)

/** Derives a key, two at a time; the next ones wait, and where too many wait it is refused with 503. */
function derive(...input: Parameters<typeof scryptOf>): Promise<Buffer> {
  if (limit.pendingCount >= MOST_WAITING)
    throw new Problem(503, 'Too much at once', 'Too many people sign in at this moment; try again in a few seconds.')
  return limit(() => scryptOf(...input))
}

/** Hashes a password with scrypt (RFC 7914); the result carries its salt and cost. */
export async function hashPassword(password: string): Promise<string> {
  const salt = randomBytes(16)
  const key = await derive(password.normalize('NFKC'), salt, KEY_BYTES, { ...COST, maxmem: 256 * COST.N * COST.r })
  return `$scrypt$n=${COST.N},r=${COST.r},p=${COST.p}$${salt.toString('base64url')}$${key.toString('base64url')}`
}

/** Whether a password is the one hashed; takes as long for a wrong one. */
export async function verifyPassword(password: string, hash: string): Promise<boolean> {
  const parts = /^\$scrypt\$n=(\d+),r=(\d+),p=(\d+)\$([\w-]+)\$([\w-]+)$/.exec(hash)
  if (!parts) return false
  const cost = { N: Number(parts[1]), r: Number(parts[2]), p: Number(parts[3]) }
  const expected = Buffer.from(parts[5]!, 'base64url')
  const key = await derive(password.normalize('NFKC'), Buffer.from(parts[4]!, 'base64url'), expected.length, {
    ...cost,
    maxmem: 256 * cost.N * cost.r,
  })
  return timingSafeEqual(key, expected)
}
