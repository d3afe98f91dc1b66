import { z } from 'zod'
import { readHost } from '../address'
import { destination, reason, redirectStatus } from './link'

export const DOMAIN_STANDINGS = ['not-proved', 'proved', 'spreading', 'open', 'drifted'] as const

const host = z.string('Give the domain’s name, like “ansl.example”.').transform((typed, context) => {
  const reading = readHost(typed.replace(/^https?:\/\//i, '').replace(/\/$/, ''))
  if (reading.ok && reading.host.includes('.') && !reading.host.startsWith('[') && !reading.host.includes('_') && !/^[\d.]+$/.test(reading.host)) return reading.host
  context.addIssue('Give a domain name like “ansl.example”, without scheme, port or path.')
  return z.NEVER
})

const editable = {
  standing: z.enum(['not-proved', 'open'], 'Choose “open”, or “not-proved” to close it again.'),
  capitalsMatter: z.boolean('Say true or false.'),
  trailingSlashMatters: z.boolean('Say true or false.'),
  defaultStatus: redirectStatus,
  permanenceSeconds: z.int('Give whole seconds.').min(0, 'Give 0 seconds or more.').max(31_536_000, 'At most 31,536,000 seconds, which is a year.'),
  rootDestination: destination.nullable(),
  notFoundDestination: destination.nullable(),
  endedDestination: destination.nullable(),
  appSchemes: z.array(z.string().regex(/^[a-z][a-z0-9+.-]{1,30}$/, 'A scheme is lower case, like “mailto”.')
    .refine((scheme) => !['javascript', 'data', 'vbscript', 'file', 'blob', 'about', 'http', 'https'].includes(scheme), 'This scheme cannot be listed.')).max(20),
}

export const domainCreate = z.strictObject({ host, standing: editable.standing.default('not-proved'), defaultStatus: redirectStatus.default(302), reason })

export const domainPatch = z.strictObject(editable).partial().extend({ reason })

export const domain = z.object({
  id: z.int(),
  host: z.string(),
  shown: z.string(),
  standing: z.enum(DOMAIN_STANDINGS),
  capitalsMatter: z.boolean(),
  trailingSlashMatters: z.boolean(),
  defaultStatus: redirectStatus,
  permanenceSeconds: z.int(),
  rootDestination: z.string().nullable(),
  notFoundDestination: z.string().nullable(),
  endedDestination: z.string().nullable(),
  appSchemes: z.array(z.string()),
  version: z.int(),
})

export type Domain = z.infer<typeof domain>
export type DomainCreate = z.output<typeof domainCreate>
export type DomainPatch = z.output<typeof domainPatch>

/** Whether a domain in this standing answers; the links of one that does not are waiting. */
export const isOpenStanding = (standing: Domain['standing']) => standing === 'open' || standing === 'drifted'
