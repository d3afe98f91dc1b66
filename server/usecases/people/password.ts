import { randomBytes, scrypt, timingSafeEqual } from 'node:crypto'
import { promisify } from 'node:util'

const derive = promisify<string, Buffer, number, { N: number; r: number; p: number; maxmem: number }, Buffer>(scrypt)

// N, r and p of the OWASP Password Storage Cheat Sheet's scrypt row (2^17, 8, 1 halved in memory for p = 2).
const COST = { N: 2 ** 16, r: 8, p: 2 }
const KEY_BYTES = 32

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
