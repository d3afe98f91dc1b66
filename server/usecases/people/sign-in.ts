import type { Database } from '../../database/open'
import type { MemberModel } from '../../database/models/member'
import { hashPassword, verifyPassword } from './password'
import { Problem } from '../problem'

const WINDOW_MS = 15 * 60_000
const MOST_FAILURES = 10
const failures = new Map<string, { count: number; until: number }>()

let nobodysHash: Promise<string> | undefined

/**
 * The member with this e-mail address and password. An unknown address takes as long as a wrong password and gets
 * the same sentence. After ten failures for an address and peer in a quarter of an hour it waits (429).
 */
export async function signIn(db: Database, email: string, password: string, peer: string): Promise<MemberModel> {
  const key = email + '\n' + peer
  const now = Date.now()
  const failed = failures.get(key)
  if (failed && failed.until > now && failed.count >= MOST_FAILURES) {
    throw new Problem(
      429,
      'Too many tries',
      `Too many failed tries; wait ${Math.ceil((failed.until - now) / 60_000)} minutes and try again.`,
    )
  }
  const member = await db.Member.findOne({ where: { email } })
  nobodysHash ??= hashPassword('nobody has this password')
  const right = await verifyPassword(password, member?.passwordHash ?? (await nobodysHash))
  if (member && member.active && member.passwordHash && right) {
    failures.delete(key)
    return member
  }
  if (failures.size > 10_000) failures.clear()
  failures.set(
    key,
    failed && failed.until > now ? { ...failed, count: failed.count + 1 } : { count: 1, until: now + WINDOW_MS },
  )
  throw new Problem(401, 'Not signed in', 'The e-mail address or the password is wrong.')
}
