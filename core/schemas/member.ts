import { z } from 'zod'
import { MIN_CHARACTERS } from '../people/limits'
import { ROLES, TOKEN_SCOPES } from './roles'

/** An e-mail address as it is kept and compared, octet for octet: composed and in lower case. */
export const foldEmail = (typed: string): string => typed.trim().normalize('NFKC').toLowerCase()

const email = z
  .email('Enter an e-mail address, for example name@example.test.')
  .max(254, 'An e-mail address can be at most 254 characters.')
  .transform(foldEmail)
/** Strength is judged where a password is chosen (core/people): its dictionaries are too large to come along here. */
const password = z
  .string('Give a password.')
  .min(MIN_CHARACTERS, `A password needs at least ${MIN_CHARACTERS} characters.`)
  .max(200, 'A password can be at most 200 characters.')
const presentPassword = z
  .string('Give your password.')
  .min(1, 'Give your password.')
  .max(200, 'A password can be at most 200 characters.')
const name = z.string('Give a name.').trim().min(1, 'Give a name.').max(120, 'A name can be at most 120 characters.')
const role = z.enum(ROLES, 'Choose “administrator”, “editor” or “viewer”.')

export const signIn = z.strictObject({
  email: z
    .string('Give your e-mail address.')
    .min(1, 'Give your e-mail address.')
    .max(254, 'An e-mail address can be at most 254 characters.')
    .transform(foldEmail),
  password: presentPassword,
})

/** What a browser's authenticator gave, as WebAuthn's JSON; the library that verifies it reads it in full. */
const credential = z.looseObject({
  id: z.string().max(1000),
  rawId: z.string().max(1000),
  type: z.literal('public-key'),
  response: z.record(z.string(), z.unknown()),
})
const code = z
  .string()
  .trim()
  .regex(/^\d{6}$/, 'Enter the six-digit code from your authenticator.')

/** Exactly one way to prove who one is. */
const oneWay = 'Give one of a code, a passkey, a recovery code or the password.'
export const secondFactor = z
  .strictObject({ code, passkey: credential, recovery: z.string().trim().max(40) })
  .partial()
  .refine((given) => Object.keys(given).length === 1, oneWay)
export const confirmation = z
  .strictObject({ code, passkey: credential, recovery: z.string().trim().max(40), password: presentPassword })
  .partial()
  .refine((given) => Object.keys(given).length === 1, oneWay)

export const memberCreate = z.strictObject({ email, name, role })
export const memberPatch = z.strictObject({ name, role, active: z.boolean() }).partial()
/** What proves that whoever opened a one-time address is meant, and the password chosen there. */
export const oneTime = z.strictObject({ word: z.string().min(1).max(100) })
export const choosePassword = oneTime.extend({ password })
export const changePassword = z.strictObject({ present: presentPassword, password })
export const newPasskey = z.strictObject({
  name: z
    .string('Name the passkey after what holds it.')
    .trim()
    .min(1, 'Name the passkey after what holds it.')
    .max(60),
  credential,
})
export const confirmCode = z.strictObject({ code })
export const member = z.object({
  id: z.int(),
  email: z.string(),
  name: z.string(),
  role,
  active: z.boolean(),
  /** Whether a password was chosen; an invited member has none yet. */
  joined: z.boolean(),
  /** Whether signing in asks for a second factor. */
  secondFactor: z.boolean(),
  version: z.int(),
  createdAt: z.string(),
})
export type Member = z.infer<typeof member>

export const session = z.object({
  member: member.pick({ id: true, email: true, name: true, role: true }),
  organisation: z.object({ name: z.string(), timeZone: z.string() }),
})
export type Session = z.infer<typeof session>

/** The ways to prove who one is, for whoever gave the right password. */
export const FACTORS = ['passkey', 'code', 'recovery', 'password'] as const
export type Factor = (typeof FACTORS)[number]

/** What signing in comes to: a session, or the question for a second factor. */
export const signedIn = z.union([session, z.object({ needs: z.array(z.enum(FACTORS)) })])
export type SignedIn = Session | { needs: Factor[] }

/** A session as its owner sees it. */
export const openSession = z.object({
  id: z.int(),
  /** Whether it is the one this is asked in. */
  own: z.boolean(),
  agent: z.string(),
  createdAt: z.string(),
  seenAt: z.string(),
  /** When it ends without further use, and when in any case. */
  idleUntil: z.string(),
  endsAt: z.string(),
})
export type OpenSession = z.infer<typeof openSession>

/** All that guards one's own account. */
export const doors = z.object({
  sessions: z.array(openSession),
  passkeys: z.array(z.object({ id: z.int(), name: z.string(), createdAt: z.string(), usedAt: z.string().nullable() })),
  code: z.boolean(),
  /** Recovery codes not used yet. */
  recoveryCodes: z.int(),
  events: z.array(
    z.object({ at: z.string(), words: z.string(), failed: z.boolean(), peer: z.string(), agent: z.string() }),
  ),
})
export type Doors = z.infer<typeof doors>

/** A one-time address, told once to whoever made it. */
export const oneTimeAddress = z.object({ path: z.string(), expiresAt: z.string() })
export type OneTimeAddress = z.infer<typeof oneTimeAddress>

export const setup = z.strictObject({
  ticket: z.string('Open the set-up link printed at start.'),
  organisation: z.string('Name the organisation.').trim().min(1, 'Name the organisation.').max(120),
  timeZone: z.string('Choose a time zone.').refine((zone) => {
    try {
      return Boolean(new Intl.DateTimeFormat('en', { timeZone: zone }))
    } catch {
      return false
    }
  }, 'Choose a time zone like “Europe/Lisbon”.'),
  name,
  email,
  password,
})

/** A token's secret may not be found in scripts for ever. */
const MAX_TOKEN_DAYS = 730

export const tokenCreate = z.strictObject({
  name: z.string('Enter a name for the token.').trim().min(1, 'Enter a name for the token.').max(120),
  scope: z.enum(TOKEN_SCOPES, 'Choose “read”, “write” or “administer”.'),
  expiresAt: z.iso
    .datetime({ offset: true, error: 'Give a moment like 2027-03-01T08:00:00Z.' })
    .refine((moment) => Date.parse(moment) > Date.now(), 'Enter a date and time in the future.')
    .refine(
      (moment) => Date.parse(moment) < Date.now() + MAX_TOKEN_DAYS * 86_400_000,
      'Give a moment within the next two years.',
    )
    .nullable()
    .default(null),
  /** Hosts of the domains whose links it may see and change, and nothing else; empty for all it may by its scope. */
  domains: z.array(z.string().max(253)).max(50, 'Name at most 50 domains.').default([]),
})
export const token = z.object({
  id: z.int(),
  name: z.string(),
  scope: z.enum(TOKEN_SCOPES),
  domains: z.array(z.string()),
  /** Whose it is; for administrators, who see everybody's. */
  member: z.string().optional(),
  createdAt: z.string(),
  expiresAt: z.string().nullable(),
  lastUsedAt: z.string().nullable(),
  revokedAt: z.string().nullable(),
})
export type Token = z.infer<typeof token>
