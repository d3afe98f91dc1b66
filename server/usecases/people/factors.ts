import type { Factor } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { MemberModel } from '../../database/models/member'
import type { SessionModel } from '../../database/models/session'
import { Problem } from '../problem'
import type { Caller } from './caller'
import { recordSecurityEvent } from './door-log'
import { countFactorTry, countTry, forgetFactorTries, forgetTries, isLastFactorTry } from './limit-tries'
import { takePasskey } from './passkeys'
import { verifyPassword } from './password'
import { countRecoveryCodes, takeRecoveryCode } from './recovery-codes'
import { takeCode } from './time-codes'

/** What somebody gives to prove who they are; exactly one of these. */
export interface Proof {
  code?: string
  passkey?: unknown
  recovery?: string
  password?: string
}

/** The second factors a member has; recovery codes count only beside another. */
export async function factorsOf(db: Database, member: MemberModel): Promise<Factor[]> {
  const [passkeys, recovery] = await Promise.all([
    db.Passkey.count({ where: { memberId: member.id } }),
    countRecoveryCodes(db, member.id),
  ])
  const strong: Factor[] = [
    ...(passkeys > 0 ? (['passkey'] as const) : []),
    ...(member.codeSecret ? (['code'] as const) : []),
  ]
  return strong.length > 0 && recovery > 0 ? [...strong, 'recovery'] : strong
}

/** What a member is asked for again: the second factor where there is one, else the password. */
export async function stepUpMethods(db: Database, member: MemberModel): Promise<Factor[]> {
  const factors = await factorsOf(db, member)
  return factors.length > 0 ? factors : ['password']
}

/**
 * Has one proof verified, once; each try counts before. Refuses with 401 where it is wrong, or of a kind that is not
 * asked for.
 */
export async function prove(
  db: Database,
  sealing: Buffer,
  who: { member: MemberModel; session: SessionModel },
  caller: Caller,
  asked: readonly Factor[],
  proof: Proof,
): Promise<void> {
  const { member, session } = who
  const name = `factor ${member.id}`
  await countTry(db, name, caller.peer, () => recordSecurityEvent(db, member.id, 'too-many-tries', caller))
  await countFactorTry(db, member.id)
  const kind = (Object.keys(proof) as Factor[]).find((key) => proof[key] !== undefined)
  const right =
    kind !== undefined &&
    asked.includes(kind) &&
    (kind === 'code'
      ? await takeCode(db, sealing, member, proof.code!)
      : kind === 'passkey'
        ? await takePasskey(db, member.id, session, caller, proof.passkey)
        : kind === 'recovery'
          ? await takeRecoveryCode(db, member.id, proof.recovery!)
          : member.passwordHash !== null && (await verifyPassword(proof.password!, member.passwordHash)))
  if (!right) {
    await recordSecurityEvent(db, member.id, kind === 'password' ? 'wrong-password' : 'wrong-factor', caller)
    const isOver = !session.whole && (await isLastFactorTry(db, session.id))
    if (isOver) await session.destroy()
    const sentence = WRONG[kind ?? 'code'] + (isOver ? ' That was the last try; sign in again.' : '')
    throw new Problem(401, 'Not confirmed', sentence, [], { wrong: kind })
  }
  if (kind === 'recovery') await recordSecurityEvent(db, member.id, 'recovery-used', caller)
  await forgetTries(db, name, caller.peer)
  await forgetFactorTries(db, member.id)
}

const WRONG: Record<Factor, string> = {
  code: 'This code is not right, or was used already. Give the six digits your authenticator shows now.',
  passkey: 'This passkey is not one of yours, or its answer came too late. Try again.',
  recovery: 'Invalid or used recovery code.',
  password: 'This is not your password.',
}
