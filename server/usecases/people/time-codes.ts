import { generateSecret, generateURI, verify } from 'otplib'
import { QueryTypes } from 'sequelize'
import type { Database } from '../../database/open'
import type { MemberModel } from '../../database/models/member'
import { seal, unseal } from '../../seal'
import { fieldProblem, Problem } from '../problem'

/** A code of one step before or after counts as well, since clocks differ (RFC 6238 §5.2). */
const TOLERANCE_SECONDS = 30

const about = (member: MemberModel) => `time code of member ${member.id}`

/**
 * The step of a code that is right and was not taken before; `undefined` for any other (RFC 6238: six digits, SHA-1,
 * steps of 30 seconds, as authenticators expect).
 */
async function stepOf(
  key: Buffer,
  member: MemberModel,
  sealed: Buffer | null,
  code: string,
): Promise<number | undefined> {
  const secret = sealed && unseal(key, sealed, about(member))
  if (!secret || !/^\d{6}$/.test(code)) return undefined
  const result = await verify({ secret: secret.toString('latin1'), token: code, epochTolerance: TOLERANCE_SECONDS })
  if (!result.valid || !('timeStep' in result) || result.timeStep <= member.codeStep) return undefined
  return result.timeStep
}

/** Whether a code is right; it is then used up, also where two come at the same moment. */
export async function takeCode(db: Database, key: Buffer, member: MemberModel, code: string): Promise<boolean> {
  const step = await stepOf(key, member, member.codeSecret, code)
  if (step === undefined) return false
  const [, taken] = await db.sequelize.query('UPDATE member SET code_step = ? WHERE id = ? AND code_step < ?', {
    replacements: [step, member.id, step],
    type: QueryTypes.UPDATE,
  })
  return taken === 1
}

/** Offers a secret for an authenticator; it counts once a code of it was given. */
export async function offerCode(
  key: Buffer,
  member: MemberModel,
  issuer: string,
): Promise<{ secret: string; address: string }> {
  if (member.codeSecret)
    throw new Problem(409, 'There already', 'There is an authenticator already; remove it before you add another.')
  const secret = generateSecret()
  await member.update({ codeSecretOffered: seal(key, Buffer.from(secret, 'latin1'), about(member)) })
  return { secret, address: generateURI({ issuer: issuer || 'Fides', label: member.email, secret }) }
}

/** Takes an offered secret into use by a code of it. */
export async function adoptCode(key: Buffer, member: MemberModel, code: string): Promise<void> {
  const step = await stepOf(key, member, member.codeSecretOffered, code)
  if (step === undefined)
    throw fieldProblem(
      'code',
      'This code is not right. Give the six digits your authenticator shows now, and see that its clock is right.',
    )
  await member.update({ codeSecret: member.codeSecretOffered, codeSecretOffered: null, codeStep: step })
}
