import { z } from 'zod'
import { ROLES, TOKEN_SCOPES } from './roles'

/** An e-mail address as it is kept and compared, octet for octet: composed and in lower case. */
export const foldEmail = (typed: string): string => typed.trim().normalize('NFKC').toLowerCase()

const email = z
  .email('Give an e-mail address like name@example.test.')
  .max(254, 'An e-mail address can be at most 254 characters.')
  .transform(foldEmail)
const password = z
  .string('Give a password.')
  .min(12, 'A password needs at least 12 characters.')
  .max(200, 'A password can be at most 200 characters.')
const name = z.string('Give a name.').trim().min(1, 'Give a name.').max(120, 'A name can be at most 120 characters.')
const role = z.enum(ROLES, 'Choose “administrator”, “editor” or “viewer”.')

export const signIn = z.strictObject({
  email: z
    .string('Give your e-mail address.')
    .min(1, 'Give your e-mail address.')
    .max(254, 'An e-mail address can be at most 254 characters.')
    .transform(foldEmail),
  password: z
    .string('Give your password.')
    .min(1, 'Give your password.')
    .max(200, 'A password can be at most 200 characters.'),
})

export const memberCreate = z.strictObject({ email, name, role, password })
export const memberPatch = z.strictObject({ name, role, password, active: z.boolean() }).partial()
export const member = z.object({
  id: z.int(),
  email: z.string(),
  name: z.string(),
  role,
  active: z.boolean(),
  version: z.int(),
  createdAt: z.string(),
})
export type Member = z.infer<typeof member>

export const session = z.object({
  member: member.pick({ id: true, email: true, name: true, role: true }),
  organisation: z.object({ name: z.string(), timeZone: z.string() }),
})
export type Session = z.infer<typeof session>

export const setup = z.strictObject({
  ticket: z.string('Use the set-up address printed at start.'),
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

export const tokenCreate = z.strictObject({
  name: z.string('Name the token after what uses it.').trim().min(1, 'Name the token after what uses it.').max(120),
  scope: z.enum(TOKEN_SCOPES, 'Choose “read”, “write” or “administer”.'),
  expiresAt: z.iso
    .datetime({ offset: true, error: 'Give a moment like 2027-03-01T08:00:00Z.' })
    .nullable()
    .default(null),
})
export const token = z.object({
  id: z.int(),
  name: z.string(),
  scope: z.enum(TOKEN_SCOPES),
  createdAt: z.string(),
  expiresAt: z.string().nullable(),
  lastUsedAt: z.string().nullable(),
  revokedAt: z.string().nullable(),
})
export type Token = z.infer<typeof token>
