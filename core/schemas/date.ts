import { z } from 'zod'
import { line } from './line'

export const LINK_DATE_KINDS = {
  'look-again': 'Review',
  'ends-there': 'Destination ends',
} as const

/** A day on which somebody should look at a link. */
export const linkDateCreate = z.strictObject({
  kind: z.enum(Object.keys(LINK_DATE_KINDS) as ['look-again', 'ends-there'], 'Choose what the day is.'),
  day: z.iso.date('Enter a day, such as 2026-12-24.'),
  note: line(300, 'The note').default(''),
  /** So many days before it comes up in the docket. */
  remindDays: z
    .int('Give a whole number of days.')
    .min(0, 'At least 0 days before.')
    .max(365, 'At most 365 days before.')
    .default(7),
})
export type LinkDateCreate = z.output<typeof linkDateCreate>

export const linkDate = z.object({
  id: z.int(),
  kind: z.enum(['look-again', 'ends-there']),
  day: z.string(),
  note: z.string(),
  remindDays: z.int(),
  madeBy: z.string(),
})
export type LinkDate = z.infer<typeof linkDate>

export const datesQuery = z
  .strictObject({
    from: z.iso.date('from: a day like 2026-11-27.'),
    to: z.iso.date('to: a day like 2026-12-31.'),
  })
  .refine(({ from, to }) => from <= to && Date.parse(to) - Date.parse(from) <= 400 * 86_400_000, {
    path: ['to'],
    message: 'to: a day not before “from”, and at most 400 days after it.',
  })

export const DATE_KINDS = {
  'link-begins': 'Link starts',
  'link-ends': 'Link ends',
  'link-resumes': 'Paused link resumes',
  'look-again': 'Review',
  'ends-there': 'Destination ends',
  change: 'Scheduled change',
  renewal: 'Domain registration expires',
  certificate: 'Certificate expires',
  aside: 'Set-aside case reopens',
} as const
export type DateKind = keyof typeof DATE_KINDS

/** Something that has a date. */
export const dateEvent = z.object({
  key: z.string(),
  kind: z.enum(Object.keys(DATE_KINDS) as [DateKind, ...DateKind[]]),
  /** The day by the organisation's calendar. */
  day: z.string(),
  /** The moment, where it has one; `null` for a whole day. */
  at: z.string().nullable(),
  title: z.string(),
  note: z.string(),
  /** Where in the desk it is. */
  to: z.string(),
})
export type DateEvent = z.infer<typeof dateEvent>
