import { z } from 'zod'

/** One page of a list, with the cursor of the next. */
export const page = <Item extends z.ZodType>(item: Item) =>
  z.object({ items: z.array(item), next: z.string().nullable() })
/** A list: whole, with `next` null, unless a page of it was asked for. */
export const list = <Item extends z.ZodType>(item: Item) => page(item)
