import {
  generateAuthenticationOptions,
  generateRegistrationOptions,
  verifyAuthenticationResponse,
  verifyRegistrationResponse,
  type AuthenticationResponseJSON,
  type AuthenticatorTransport,
  type RegistrationResponseJSON,
} from '@simplewebauthn/server'
import { UniqueConstraintError } from 'sequelize'
import type { Database } from '../../database/open'
import type { MemberModel } from '../../database/models/member'
import type { PasskeyModel } from '../../database/models/passkey'
import type { SessionModel } from '../../database/models/session'
import { fieldProblem, notFound, Problem } from '../problem'
import type { Caller } from './caller'

const MAX_PASSKEYS = 20

/** The relying party's id: the desk's host (WebAuthn Level 2 §5.1.2). An IP address cannot be one. */
const partyOf = ({ origin }: Caller) => new URL(origin).hostname

const descriptor = (passkey: PasskeyModel) => ({
  id: passkey.credential,
  transports: passkey.transports as AuthenticatorTransport[],
})

export const passkeysOf = (db: Database, memberId: number): Promise<PasskeyModel[]> =>
  db.Passkey.findAll({ where: { memberId }, order: ['id'] })

/** What a browser needs to make a passkey; the challenge is kept with the session and good once. */
export async function offerPasskey(
  db: Database,
  member: MemberModel,
  session: SessionModel,
  caller: Caller,
  organisation: string,
): Promise<object> {
  const known = await passkeysOf(db, member.id)
  if (known.length >= MAX_PASSKEYS)
    throw new Problem(409, 'Too many', `You have ${MAX_PASSKEYS} passkeys; remove one before you add another.`)
  const options = await generateRegistrationOptions({
    rpName: organisation || 'Fides',
    rpID: partyOf(caller),
    userName: member.email,
    userDisplayName: member.name,
    userID: Buffer.from(`member ${member.id}`),
    attestationType: 'none',
    excludeCredentials: known.map(descriptor),
    authenticatorSelection: { residentKey: 'preferred', userVerification: 'preferred' },
  })
  await session.update({ challenge: options.challenge })
  return options
}

/** The challenge of a session, which is then used up: of several requests that come together one gets it. */
async function takeChallenge(db: Database, session: SessionModel): Promise<string> {
  const { id, challenge } = session
  if (challenge == null) return ''
  const [mine] = await db.Session.update({ challenge: null }, { where: { id, challenge } })
  return mine === 1 ? challenge : ''
}

/** Keeps a passkey that a browser made by `offerPasskey`. */
export async function adoptPasskey(
  db: Database,
  member: MemberModel,
  session: SessionModel,
  caller: Caller,
  made: { name: string; credential: unknown },
): Promise<void> {
  const refused = fieldProblem('credential', 'This passkey could not be verified; try again.')
  const verified = await verifyRegistrationResponse({
    response: made.credential as RegistrationResponseJSON,
    expectedChallenge: await takeChallenge(db, session),
    expectedOrigin: caller.origin,
    expectedRPID: partyOf(caller),
    requireUserVerification: false,
  }).catch(() => undefined)
  if (!verified?.verified || !verified.registrationInfo) throw refused
  const { credential } = verified.registrationInfo
  try {
    await db.Passkey.create({
      memberId: member.id,
      name: made.name,
      credential: credential.id,
      publicKey: Buffer.from(credential.publicKey),
      counter: credential.counter,
      transports: credential.transports ?? [],
      createdAt: new Date(),
    })
  } catch (error) {
    throw error instanceof UniqueConstraintError ? refused : error
  }
}

/** What a browser needs to have one of a member's passkeys sign; `undefined` where there is none. */
export async function askPasskey(
  db: Database,
  memberId: number,
  session: SessionModel,
  caller: Caller,
): Promise<object | undefined> {
  const known = await passkeysOf(db, memberId)
  if (known.length === 0) return undefined
  const options = await generateAuthenticationOptions({
    rpID: partyOf(caller),
    allowCredentials: known.map(descriptor),
    userVerification: 'preferred',
  })
  await session.update({ challenge: options.challenge })
  return options
}

/** Whether a passkey of the member signed the session's challenge. */
export async function takePasskey(
  db: Database,
  memberId: number,
  session: SessionModel,
  caller: Caller,
  given: unknown,
): Promise<boolean> {
  const expectedChallenge = await takeChallenge(db, session)
  const response = given as AuthenticationResponseJSON
  const passkey = await db.Passkey.findOne({ where: { memberId, credential: response.id } })
  if (!passkey || expectedChallenge === '') return false
  const verified = await verifyAuthenticationResponse({
    response,
    expectedChallenge,
    expectedOrigin: caller.origin,
    expectedRPID: partyOf(caller),
    requireUserVerification: false,
    credential: {
      id: passkey.credential,
      publicKey: new Uint8Array(passkey.publicKey),
      counter: passkey.counter,
      transports: passkey.transports as AuthenticatorTransport[],
    },
  }).catch(() => undefined)
  if (!verified?.verified) return false
  await passkey.update({ counter: verified.authenticationInfo.newCounter, usedAt: new Date() })
  return true
}

/** Removes one of a member's own passkeys. */
export async function removePasskey(db: Database, memberId: number, id: number): Promise<void> {
  if ((await db.Passkey.destroy({ where: { id, memberId } })) === 0) throw notFound('passkey')
}
