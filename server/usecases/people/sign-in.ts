import { createHash } from 'node:crypto'
import type { Database } from '../../database/open'
import type { MemberModel } from '../../database/models/member'
import { Problem } from '../problem'
import type { Caller } from './caller'
import { recordSecurityEvent } from './door-log'
import { countTry, forgetTries } from './limit-tries'
import { hashPassword, verifyPassword } from './password'

let nobodysHash: Promise<string> | undefined

/** By member, however the address was typed; addresses nobody has are told apart without being kept. */
const whoseTry = (member: MemberModel | null, email: string): string =>
  member ? `member ${member.id}` : createHash('sha256').update(email).digest('base64url').slice(0, 22)

/**
 * The member with this folded e-mail address and this password. An unknown address takes as long as a wrong password
 * and gets the same sentence. Each try counts before it is verified; after ten in a quarter of an hour from one peer
 * that peer waits (429), and nobody else does.
 */
export async function signIn(
  db: Database,
  email: string,
  password: string,
  caller: Pick<Caller, 'peer' | 'agent'>,
): Promise<MemberModel> {
  const member = await db.Member.findOne({ where: { email } })
  const who = whoseTry(member, email)
  const note = (kind: 'wrong-password' | 'too-many-tries') =>
    member ? recordSecurityEvent(db, member.id, kind, caller) : Promise.resolve()
  await countTry(db, who, caller.peer, () => note('too-many-tries'))
  nobodysHash ??= hashPassword('nobody has this password')
  const right = await verifyPassword(password, member?.passwordHash ?? (await nobodysHash))
  if (!member || !member.active || !member.passwordHash || !right) {
    await note('wrong-password')
    throw new Problem(401, 'Not signed in', 'Wrong e-mail address or password.')
  }
  await forgetTries(db, who, caller.peer)
  return member
}
