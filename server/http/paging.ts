import { z } from 'zod'
import { Problem } from '../usecases/problem'

const HOW_MANY = 'Give a number from 1 to 200.'

/** How a page of a list is asked for. Without either all of it is given. */
export const pagingQuery = z.object({
  cursor: z.string().max(200).optional(),
  limit: z.coerce.number(HOW_MANY).int(HOW_MANY).min(1, HOW_MANY).max(200, HOW_MANY).optional(),
})

export type Paging = z.output<typeof pagingQuery>

const MAX_PAGE = 200

/** What tells one item of a list from another. */
const keyOf = (item: unknown): string => {
  const { id, name, host, at } = item as Record<string, unknown>
  return String(id ?? host ?? name ?? at ?? JSON.stringify(item))
}

const toCursor = (index: number, key: string) => Buffer.from(JSON.stringify([index, key])).toString('base64url')

function fromCursor(cursor: string): [number, string] {
  try {
    const [index, key] = JSON.parse(Buffer.from(cursor, 'base64url').toString('utf8')) as unknown[]
    if (Number.isSafeInteger(index) && typeof key === 'string') return [index as number, key]
  } catch {
    // Told below.
  }
  throw new Problem(422, 'Invalid field', 'The cursor is none that this list gave.', [
    { pointer: '/cursor', detail: 'Use “next” from the previous page, or leave it out.' },
  ])
}

/**
 * A page of a list: what follows the item the cursor names. Where that is gone, what stands at its place now, so that
 * nothing is left out.
 */
export function pageOf<Whole extends { items: unknown[] }>(
  whole: Whole,
  { cursor, limit }: Paging,
): Whole & { next: string | null } {
  const { items } = whole
  if (cursor === undefined && limit === undefined) return { ...whole, next: null }
  let from = 0
  if (cursor !== undefined) {
    const [index, key] = fromCursor(cursor)
    const place = items.findIndex((item) => keyOf(item) === key)
    from = place === -1 ? Math.max(0, index) : place + 1
  }
  const page = items.slice(from, from + (limit ?? MAX_PAGE))
  const last = from + page.length
  return { ...whole, items: page, next: last < items.length ? toCursor(last - 1, keyOf(page.at(-1))) : null }
}
