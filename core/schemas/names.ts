import { z } from 'zod'
import { CERTIFICATE_EVENTS } from '../domain/front-log'
// By file: the whole of core/dns would bring the public suffix list into every page.
import { readName } from '../dns/name'
import { readType } from '../dns/types'
import { domain, host } from './domain'

export const zoneRecord = z.object({ name: z.string(), type: z.string(), ttl: z.int(), data: z.string() })
const wanted = z.object({ name: z.string(), type: z.string(), data: z.array(z.string()) })

export const zoneFinding = z.object({
  kind: z.string(),
  severity: z.enum(['fatal', 'warning', 'notice']),
  name: z.string(),
  type: z.string(),
  sentence: z.string(),
})
export type ZoneFindingView = z.infer<typeof zoneFinding>

export const zoneView = z.object({
  origin: z.string(),
  records: z.int(),
  source: z.enum(['file', 'transfer', 'asked']),
  toldBy: z.string(),
  readAt: z.string(),
  findings: z.array(zoneFinding),
})
export type ZoneView = z.infer<typeof zoneView>

const secret = z
  .string()
  .trim()
  .regex(/^(?:[A-Za-z0-9+/]{4})*(?:[A-Za-z0-9+/]{2}==|[A-Za-z0-9+/]{3}=)?$/, {
    error: 'The secret must be base64, as the name server’s key file holds it.',
    abort: true,
  })
  .refine((text) => text.length >= 20 && text.length <= 344, 'The secret must be 16 to 256 bytes in base64.')
const keyName = z
  .string()
  .trim()
  .toLowerCase()
  .transform((text, context) => {
    const reading = readName(text)
    if (reading.ok && text !== '') return reading.name
    context.addIssue('Give the key’s name, like “desk-key”.')
    return z.NEVER
  })
const server = z
  .string()
  .trim()
  .regex(
    /^(?:\d{1,3}(?:\.\d{1,3}){3}|\[[0-9a-fA-F:.]+\])(?::\d{1,5})?$/,
    'Give the name server’s address, like 192.0.2.53 or [2001:db8::53]:53.',
  )

export const transferRequest = z.strictObject({
  server: server.optional(),
  key: z.strictObject({ name: keyName, secret }).optional(),
})
export const updateKeyPut = z.strictObject({ server, name: keyName, secret })
export const updateKey = z.object({ server: z.string(), name: z.string() })

export const lookupRequest = z.strictObject({
  name: z
    .string()
    .max(1100)
    .transform((typed, context) => {
      const reading = readName(typed.trim())
      if (reading.ok && typed.trim() !== '') return reading.name
      context.addIssue(reading.ok ? 'Give the name to look up.' : `This name cannot be looked up: ${reading.sentence}.`)
      return z.NEVER
    }),
  type: z.string().transform((typed, context) => {
    const type = readType(typed.trim())
    if (type !== undefined) return type
    context.addIssue('Give a record type, like A, AAAA, CNAME, MX or TXT.')
    return z.NEVER
  }),
})
const answer = z.object({
  rcode: z.string(),
  authoritative: z.boolean(),
  answer: z.array(zoneRecord),
  authority: z.array(zoneRecord),
  additional: z.array(zoneRecord),
  steps: z.array(z.string()),
})
export const lookupView = z.object({ before: answer, after: answer })
export type LookupView = z.infer<typeof lookupView>

export const STEP_KEYS = ['lower-ttl', 'wait-old-ttl', 'prove', 'switch', 'wait', 'open'] as const
export const planStep = z.object({
  key: z.enum(STEP_KEYS),
  title: z.string(),
  sentence: z.string(),
  state: z.enum(['done', 'now', 'later', 'skipped']),
  add: z.array(zoneRecord),
  remove: z.array(zoneRecord),
  waitSeconds: z.int(),
  doneAt: z.string().nullable(),
  until: z.string().nullable(),
})
export type PlanStepView = z.infer<typeof planStep>
export const plan = z.object({
  use: z.enum(['cname', 'addresses']),
  why: z.string(),
  blocked: z.string().nullable(),
  origin: z.string(),
  zoneKnown: z.boolean(),
  steps: z.array(planStep),
  records: z.array(
    zoneRecord.extend({ forms: z.object({ relative: z.string(), plain: z.string(), absolute: z.string() }) }),
  ),
  differences: z.array(
    z.object({
      name: z.string(),
      type: z.string(),
      change: z.enum(['added', 'removed', 'changed', 'ttl']),
      before: z.array(zoneRecord),
      after: z.array(zoneRecord),
    }),
  ),
  caa: z.object({ allowed: z.boolean(), sentence: z.string() }),
  waiting: z.int(),
  canPush: z.boolean(),
  key: updateKey.nullable(),
  findings: z.array(zoneFinding),
})
export type PlanView = z.infer<typeof plan>

export const pushRequest = z.strictObject({
  step: z.enum(['lower-ttl', 'prove', 'switch', 'all'], 'Choose lower-ttl, prove, switch or all.').optional(),
})
export const pushView = z.object({
  step: z.string(),
  added: z.array(zoneRecord),
  removed: z.array(zoneRecord),
  sentence: z.string(),
})
export type PushView = z.infer<typeof pushView>

export const SIGHTS = ['new', 'old', 'absent', 'silent', 'faulty'] as const
export const observation = z.object({
  role: z.enum(['authority', 'resolver']),
  server: z.string(),
  name: z.string(),
  type: z.string(),
  status: z.enum(['answered', 'none', 'lame', 'refused', 'failed', 'silent']),
  data: z.array(z.string()),
  ttl: z.int().nullable(),
  sight: z.enum(SIGHTS).nullable(),
  firstAt: z.string(),
  lastAt: z.string(),
  lapsesAt: z.string().nullable(),
})

export const reach = z.object({ ok: z.boolean(), sentence: z.string(), address: z.string().nullable(), at: z.string() })
export type Reach = z.infer<typeof reach>
export const certificate = z.object({
  answered: z.boolean(),
  sentence: z.string(),
  subject: z.string(),
  issuer: z.string(),
  names: z.array(z.string()),
  validFrom: z.string().nullable(),
  validTo: z.string().nullable(),
  fault: z.string().nullable(),
  at: z.string(),
})
export type Certificate = z.infer<typeof certificate>

export const SIGNINGS = ['unsigned', 'sound', 'ending', 'broken'] as const
/** A name server at one address, with what it says of the zone as a whole. */
const nameServer = z.object({
  server: z.string(),
  address: z.string(),
  status: observation.shape.status,
  serial: z.int().nullable(),
  isBehind: z.boolean(),
  since: z.string(),
})

export const observations = z.object({
  wanted: z.array(wanted),
  servers: z.array(z.object({ role: z.enum(['authority', 'resolver']), server: z.string() })),
  items: z.array(observation),
  nameServers: z.array(nameServer),
  /** How the zone is signed (DNSSEC), as it was last judged. */
  signing: z.enum(SIGNINGS).nullable(),
  reach: reach.nullable(),
  lookedAt: z.string().nullable(),
  dueAt: z.string().nullable(),
  why: z.string(),
  ttlSpeed: z.number(),
})
export type ObservationsView = z.infer<typeof observations>

export const forecastView = z.object({
  changedAt: z.string().nullable(),
  everyoneBy: z.string().nullable(),
  sentence: z.string(),
  oldTtl: z.int(),
  negativeTtl: z.int(),
  ttlSpeed: z.number(),
  now: z.string(),
  resolvers: z.array(
    z.object({ server: z.string(), state: z.enum(SIGHTS), by: z.string().nullable(), stretches: z.boolean() }),
  ),
})
export type ForecastView = z.infer<typeof forecastView>

/** Which names need a certificate, what CAA allows, and what the front serves now. */
export const certificateView = z.object({
  names: z.array(z.object({ name: z.string(), why: z.string() })),
  caa: z.object({ allowed: z.boolean(), sentence: z.string() }).nullable(),
  issuers: z.array(z.string()),
  served: certificate.nullable(),
  /** Whether the name reaches this gateway, as an authority's challenge must. */
  reach: reach.nullable(),
  /** What the front told of its tries, the newest first. */
  events: z.array(z.object({ at: z.string(), kind: z.enum(CERTIFICATE_EVENTS), detail: z.string() })),
  /** Whether this installation's front gets certificates by itself. */
  front: z.boolean(),
})
export type CertificateView = z.infer<typeof certificateView>

export const previewRequest = z.strictObject({ host })
export const preview = z.object({
  host: z.string(),
  shown: z.string(),
  isApex: z.boolean(),
  registrable: z.string(),
  zone: z.string().nullable(),
  today: z.array(z.string()),
  takenAway: z.array(z.string()),
  recommendation: z.string(),
  reachable: z.boolean(),
})
export type Preview = z.infer<typeof preview>

/** `to`: where the old pages are from now on. */
export const oldPathsQuery = z.object({ to: z.string().trim().max(2000).default('') })
export const oldPaths = z.object({
  lines: z.int(),
  unread: z.int(),
  requests: z.int(),
  items: z.array(
    z.object({
      path: z.string(),
      slug: z.string(),
      visits: z.int(),
      lastAt: z.string().nullable(),
      destination: z.string(),
      taken: z.boolean(),
    }),
  ),
})
export type OldPaths = z.infer<typeof oldPaths>

export const domainOpened = z.object({ domain, live: z.int() })
