import { z } from 'zod'
import { line } from './line'

/** Where a short address was put; most such places cannot be corrected. */
export const placementCreate = z.strictObject({
  medium: line(120, 'The medium').min(1, 'Enter a medium, for example “Stop poster”.'),
  place: line(300, 'The place').default(''),
  placedOn: z.iso.date('Enter a day, such as 2026-12-24.').nullable().default(null),
  copies: z
    .int('Give a whole number of copies.')
    .min(1, 'At least 1 copy.')
    .max(1_000_000_000, 'At most 1,000,000,000 copies.')
    .nullable()
    .default(null),
  changeable: z.boolean('Say true or false.').default(false),
})
export type PlacementCreate = z.output<typeof placementCreate>
export const placement = z.object({
  id: z.int(),
  medium: z.string(),
  place: z.string(),
  placedOn: z.string().nullable(),
  copies: z.int().nullable(),
  changeable: z.boolean(),
  /** With it as `?~=mark` behind the address, visits from this placement are told apart. */
  mark: z.string(),
})
export type Placement = z.infer<typeof placement>
