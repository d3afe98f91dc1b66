import { z } from 'zod'
import { conditionSchema } from '../../conditions'
import { schemasOf } from '../../rows/field'
import { DECIDED_STANDINGS, LINK_FIELDS } from '../../rows/link'
import { REDIRECT_STATUSES } from '../../rows/redirect-status'

const { robots, referrerPolicy, unlisted } = schemasOf(LINK_FIELDS)
const status = z.literal(REDIRECT_STATUSES, 'A status is one of 301, 302, 303, 307 and 308.')
const query = z.enum(['discard', 'carry'], 'A query is “discard” or “carry”.')
const queryConflict = z.enum(
  ['destination', 'visitor', 'both'],
  'A query conflict is “destination”, “visitor” or “both”.',
)
const text = z.string('Give text.').max(8000, 'At most 8,000 characters.')
const moment = z.iso.datetime({ offset: true, error: 'Give a moment like 2026-11-27T18:00:00Z.' })

/** A link in our own JSON. */
export const jsonLink = z.strictObject({
  domain: text.optional(),
  /** Without the slash it begins with. */
  slug: text.optional(),
  destination: text,
  status: status.optional(),
  query: query.optional(),
  queryConflict: queryConflict.optional(),
  title: text.optional(),
  note: text.optional(),
  owner: text.optional(),
  tags: z.array(text, 'Give tags as a list.').max(30, 'At most 30 tags.').optional(),
  standing: z.enum(DECIDED_STANDINGS, 'A standing is “live”, “paused”, “ended” or “retired”.').optional(),
  startsAt: moment.nullable().optional(),
  endsAt: moment.nullable().optional(),
  resumesAt: moment.nullable().optional(),
  endedDestination: text.nullable().optional(),
  robots: robots.optional(),
  referrerPolicy: referrerPolicy.optional(),
  unlisted: unlisted.optional(),
})

/** A rule in our own JSON. */
export const jsonRule = z.strictObject({
  domain: text.optional(),
  syntax: z.enum(['path', 'expression'], 'A syntax is “path” or “expression”.').optional(),
  pattern: text,
  destination: text,
  status: status.optional(),
  query: query.optional(),
  queryConflict: queryConflict.optional(),
  condition: conditionSchema.optional(),
  except: z.array(text).max(200).optional(),
  title: text.optional(),
})

/** Our own JSON: links, and rules in their order. */
export const jsonFile = z.strictObject({
  format: z.literal('fides', 'The file must contain “format”: “fides”.'),
  version: z.literal(1, 'Version 1 is the one there is.'),
  exportedAt: moment.optional(),
  links: z.array(jsonLink, 'Give links as a list.').default([]),
  rules: z.array(jsonRule, 'Give rules as a list.').default([]),
})

/** The published JSON Schema (draft 2020-12) of our own JSON. */
export const jsonFileSchema = () => z.toJSONSchema(jsonFile, { io: 'input' })
