import { z } from 'zod'
import { readHost } from '../address'
import { pageSettings } from '../pages/settings'
import { DOMAIN_FIELDS, DOMAIN_STANDINGS, PRIVACY } from '../rows/domain'
import { schemasOf } from '../rows/field'
import { redirectStatus } from '../rows/redirect'
import { reason } from './values'

/** Why something typed is no name that could be a short-link domain. */
function hostFault(bare: string): string | undefined {
  if (bare === '') return 'Give the domain’s name, like “ansl.example”.'
  if (/[/?#@\s]|:\d*$/.test(bare)) return 'Give a domain name like “ansl.example”, without scheme, port or path.'
  if (bare.includes('_'))
    return `“${bare}” has an underscore; such names hold records, but no browser’s host may have one. Use a hyphen.`
  const long = bare.split('.').find((label) => label.length > 63)
  if (long) return `One label of the name is ${long.length} characters long; a label can have at most 63.`
  if (bare.length > 1000 || bare.replace(/[^.]/g, '').length > 126) return 'The name is longer than 253 characters.'
  const reading = readHost(bare)
  if (!reading.ok || reading.host.startsWith('['))
    return (
      `“${bare.slice(0, 80)}” is no host name. Give one like “ansl.example”: letters, digits and hyphens ` +
      'between dots.'
    )
  if (/^[\d.]+$/.test(reading.host)) return 'This is an IP address. Enter a domain name, for example “ansl.example”.'
  if (!reading.host.includes('.'))
    return `“${bare}” has one label only. A domain needs at least two, for example “ansl.example”.`
  return reading.host.length > 253 ? 'The name is longer than 253 characters.' : undefined
}

export const host = z.string('Give the domain’s name, like “ansl.example”.').transform((typed, context) => {
  const bare = typed
    .trim()
    .replace(/^https?:\/\//i, '')
    .replace(/[/.]$/, '')
  const fault = hostFault(bare)
  if (fault === undefined) return (readHost(bare) as { host: string }).host
  context.addIssue(fault)
  return z.NEVER
})

export const domainCreate = z.strictObject({
  host,
  defaultStatus: redirectStatus.default(302),
  /** Add it although it lies under another domain of the organisation. */
  below: z.boolean().default(false),
  reason,
})

export const domainPatch = z.strictObject(schemasOf(DOMAIN_FIELDS)).partial().extend({ reason })

export const domain = z.object({
  id: z.int(),
  host: z.string(),
  shown: z.string(),
  standing: z.enum(DOMAIN_STANDINGS),
  capitalsMatter: z.boolean(),
  trailingSlashMatters: z.boolean(),
  mendPunctuation: z.boolean(),
  mendCapitals: z.boolean(),
  mendLookAlikes: z.boolean(),
  httpsOnly: z.boolean(),
  hstsSeconds: z.int().nullable(),
  hstsSince: z.string().nullable(),
  defaultStatus: redirectStatus,
  permanenceSeconds: z.int(),
  rootDestination: z.string().nullable(),
  notFoundDestination: z.string().nullable(),
  endedDestination: z.string().nullable(),
  appSchemes: z.array(z.string()),
  /** What its own pages say and show. */
  pages: pageSettings.default({}),
  registrar: z.string(),
  expiresOn: z.string().nullable(),
  firstYearPrice: z.number().nullable(),
  yearlyPrice: z.number().nullable(),
  currency: z.string(),
  privacy: z.enum(PRIVACY),
  /** Links on it; those of one that is not open are waiting. */
  links: z.int().optional(),
  /** Open cases about it. */
  cases: z.int().optional(),
  /** What to do next, in a few words; empty where there is nothing. */
  next: z.string().optional(),
  /** Where that is done; null where nobody can do anything but wait. */
  nextAt: z.enum(['docket', 'records']).nullable().optional(),
  lookedAt: z.string().nullable().optional(),
  /** When everyone will see its records, while they spread. */
  everyoneBy: z.string().nullable().optional(),
  version: z.int(),
})

export const domainOpen = z.strictObject({
  /** Open it although it was not seen to lead here. */
  anyway: z.boolean().default(false),
  reason,
})

export type Domain = z.infer<typeof domain>
export type DomainCreate = z.output<typeof domainCreate>
export type DomainPatch = z.output<typeof domainPatch>

export { isOpenStanding } from '../rows/domain'
