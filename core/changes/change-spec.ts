import { z } from 'zod'
import { DECIDED_STANDINGS, LINK_FIELDS } from '../rows/link'
import { schemasOf } from '../rows/field'
import { line } from '../schemas/line'
import { tagName } from '../schemas/link'
import { stepSchema } from './steps'

const { status, query, queryConflict, owner, startsAt, endsAt, endedDestination, resumesAt, robots, referrerPolicy } =
  schemasOf(LINK_FIELDS)
const tags = z.array(tagName, 'Give tags as a list.').max(30, 'At most 30 tags.')

/** What is to be done to many links alike: steps for their destinations, fields to set, tags to add and take away. */
export const changeSpec = z
  .strictObject({
    steps: z.array(stepSchema, 'Give steps as a list.').max(10, 'At most 10 steps.').default([]),
    set: z
      .strictObject({
        status,
        query,
        queryConflict,
        owner,
        startsAt,
        endsAt,
        endedDestination,
        resumesAt,
        robots,
        referrerPolicy,
        standing: z.enum(DECIDED_STANDINGS, 'Choose “live”, “paused”, “ended” or “retired”.'),
      })
      .partial()
      .default({}),
    /** The domain they are moved to; what they are called so far goes on leading to them. */
    domain: line(255, 'The domain').nullable().optional(),
    tags: z.strictObject({ add: tags.default([]), remove: tags.default([]) }).default({ add: [], remove: [] }),
  })
  .refine(
    ({ steps, set, domain, tags }) =>
      steps.length + Object.keys(set).length + tags.add.length + tags.remove.length > 0 || Boolean(domain),
    'Say what to change.',
  )

export type ChangeSpec = z.output<typeof changeSpec>
