import { z } from 'zod'
import { CAMPAIGN_PARAMETERS, type Campaign } from '../address'
import { REGISTER_FILTERS } from './register-filters'

const short = (what: string) => z.string().max(4000, `${what}: at most 4,000 characters.`)
const oneOf = <Name extends string>(names: readonly Name[]) =>
  z.partialRecord(z.enum(names), short('Each value')).refine((value) => Object.values(value).some(Boolean), {
    message: 'Choose at least one value to save.',
  })

/** What can be saved for choosing it again, and whose it is: a member's own, or everybody's. */
export const SAVED_KINDS = {
  /** A view of the register: its filters and order. */
  view: { isShared: false, max: 50 },
  /** Campaign parameters for destinations. */
  campaign: { isShared: true, max: 200 },
} as const
export type SavedKind = keyof typeof SAVED_KINDS

const title = z.string().trim().min(1, 'Enter a name.').max(120, 'The name can have at most 120 characters.')

export const savedSetCreate = z.discriminatedUnion(
  'kind',
  [
    z.object({ kind: z.literal('view'), title, value: oneOf(REGISTER_FILTERS) }),
    z.object({
      kind: z.literal('campaign'),
      title,
      value: oneOf(Object.keys(CAMPAIGN_PARAMETERS) as (keyof Campaign)[]),
    }),
  ],
  'Choose “view” or “campaign”.',
)
export const savedSet = z.object({
  id: z.int(),
  kind: z.enum(Object.keys(SAVED_KINDS) as SavedKind[]),
  title: z.string(),
  value: z.record(z.string(), z.string()),
})

export type SavedSet = z.infer<typeof savedSet>
export type SavedSetCreate = z.output<typeof savedSetCreate>
