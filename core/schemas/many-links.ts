import { z } from 'zod'
import { link, linkCreate, linkPatch } from './link'
import { problem } from './problem'
import { reason } from './values'

const NUMBER = 'Name the link by its number.'

/** A link to be changed, by its number, as it stood when it was read. */
export const linkChange = linkPatch.extend({
  id: z.int(NUMBER).min(1, NUMBER),
  version: z.int('Give the version of the link that was read, so that no change of others is lost.').min(1),
})

/** So many links are made or changed at once. */
export const MAX_MANY = 200

const rows = <Row extends z.ZodType>(row: Row) =>
  z
    .array(row, 'Give links as a list.')
    .min(1, 'Give at least one link.')
    .max(MAX_MANY, `At most ${MAX_MANY} links at once; send the others afterwards, or import them as a file.`)

/** Links to be made or changed, as they are sent: each is judged by itself. */
export const manyLinks = z.strictObject({ links: rows(z.unknown()), reason })
/** What each of them should look like. */
export const manyLinksTold = z.strictObject({ links: rows(z.union([linkCreate, linkChange])), reason })

/** What became of one of them. */
const manyLinksResult = z.object({
  /** Its place in what was sent, from 0. */
  index: z.int(),
  /** As its own request would have been answered: 201 made, 200 changed, else what is wrong. */
  status: z.int(),
  link: link.optional(),
  problem: z.looseObject(problem.shape).optional(),
})
export const manyLinksAnswer = z.object({
  made: z.int(),
  changed: z.int(),
  refused: z.int(),
  results: z.array(manyLinksResult),
})

export type ManyLinks = z.output<typeof manyLinks>
export type ManyLinksAnswer = z.infer<typeof manyLinksAnswer>
