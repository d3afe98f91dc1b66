import { z } from 'zod'
import { line } from '../schemas/line'
import { destination, moment as momentSchema, note, title, yesOrNo } from '../schemas/values'
import * as field from './field'
import { orNull, type KeptOf, type RowOf } from './field'
import { REDIRECT_FIELDS } from './redirect'

/** What a person decided about a link; `scheduled` and a passed end follow from its dates. */
export const DECIDED_STANDINGS = ['live', 'paused', 'ended', 'retired'] as const
export type DecidedStanding = (typeof DECIDED_STANDINGS)[number]
export type Standing = DecidedStanding | 'scheduled'

/** Referrer-Policy tokens (Referrer Policy, W3C Candidate Recommendation, §3). */
export const REFERRER_POLICIES = [
  'no-referrer',
  'no-referrer-when-downgrade',
  'same-origin',
  'origin',
  'strict-origin',
  'origin-when-cross-origin',
  'strict-origin-when-cross-origin',
  'unsafe-url',
] as const

const headerValue = z
  .string()
  .trim()
  .max(120, 'At most 120 characters.')
  .regex(/^[\x21-\x7e](?:[\x20-\x7e]*[\x21-\x7e])?$/, 'Use plain ASCII, as in “noindex, nofollow”.')

const ALL = ['table', 'survey', 'ledger'] as const

const date = () => orNull(field.moment({ readers: ALL, answers: true, schema: momentSchema.nullable() }))

/** A link, field by field. */
export const LINK_FIELDS = {
  id: field.id({ readers: ['table', 'survey'] }),
  domainId: field.reference({ readers: ALL }),
  slug: field.exactText(200)({ readers: ALL }),
  /** Its address as the database keeps it once; `null` where it was merged, or ended in favour of another. */
  canonical: orNull(field.exactText(600)({ readers: ALL })),
  /** The link whose answer this slug gives; `null` for a link of its own. */
  forwardsTo: orNull(field.reference({ readers: ALL })),
  /** Kept although it breaks a slug rule. */
  exception: field.flag({ readers: ['survey', 'ledger'], fallback: false }),
  destination: field.longText({ readers: ALL, answers: true, schema: destination }),
  destinationHash: field.exactText(64)(),
  ...REDIRECT_FIELDS,
  title: field.text(300)({ readers: ['ledger'], fallback: '', schema: title }),
  note: field.longText({ readers: ['ledger'], fallback: '', schema: note }),
  owner: field.text(120)({ readers: ['ledger'], fallback: '', schema: line(120, 'The owner') }),
  standing: field.oneOf(DECIDED_STANDINGS)({ readers: ALL, answers: true, fallback: 'live' }),
  startsAt: date(),
  endsAt: date(),
  resumesAt: date(),
  endedDestination: orNull(field.longText({ readers: ALL, answers: true, schema: destination.nullable() })),
  /** Value of X-Robots-Tag. */
  robots: orNull(field.text(120)({ readers: ALL, answers: true, schema: headerValue.nullable() })),
  /** Value of Referrer-Policy. */
  referrerPolicy: orNull(
    field.text(40)({
      readers: ALL,
      answers: true,
      schema: z.enum(REFERRER_POLICIES, 'Choose one of the policies browsers know, like “no-referrer”.').nullable(),
    }),
  ),
  /** Strangers who mistype another address are never told of it. */
  unlisted: field.flag({ readers: ALL, answers: true, fallback: false, schema: yesOrNo }),
  visits28: field.count({ readers: ['survey'], fallback: 0 }),
  /** How its destination stands: 0 not asked yet, 1 sound, 2 doubtful, 3 broken. */
  targetRank: field.count({ fallback: 0 }),
  version: field.count({ fallback: 1 }),
  createdAt: field.moment(),
  updatedAt: field.moment(),
}

/** A link as the table needs it: one with an address. Moments are milliseconds since the epoch. */
export type LinkRow = Omit<RowOf<typeof LINK_FIELDS, 'table'>, 'canonical'> & { canonical: string }
/** A link or a forwarding slug as the finders need it. */
export type SurveyLink = RowOf<typeof LINK_FIELDS, 'survey'>
/** A link as the ledger keeps it, beside its tags: all that can be put back; moments as ISO 8601. */
export type LinkState = {
  [K in keyof RowOf<typeof LINK_FIELDS, 'ledger'>]: K extends 'startsAt' | 'endsAt' | 'resumesAt'
    ? string | null
    : KeptOf<typeof LINK_FIELDS>[K]
}
