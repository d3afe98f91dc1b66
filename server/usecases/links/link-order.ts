import type { LinkListQuery } from '../../../core/schemas'
import type { LinkModel } from '../../database/models/link'
import { fieldProblem } from '../problem'

interface Sort {
  column: string
  order: 'ASC' | 'DESC'
  /** The order as an index has it, where the column is computed. */
  by?: string
  read(value: string | number): string | number | Date
}

// Newest first for figures and dates, alphabetical for addresses; the id settles ties, so that no page skips a row.
const SORTS = {
  visits: { column: 'l.visits_28', order: 'DESC', read: (value: string | number) => Number(value) },
  changed: { column: 'l.updated_at', order: 'DESC', read: (value: string | number) => new Date(value) },
  made: { column: 'l.created_at', order: 'DESC', read: (value: string | number) => new Date(value) },
  address: { column: 'l.canonical', order: 'ASC', read: (value: string | number) => String(value) },
  // The worst first, among them those most visited; the index has them in this order.
  target: {
    column: '(l.target_rank * 4294967296 + l.visits_28)',
    order: 'DESC',
    by: 'l.target_rank DESC, l.visits_28 DESC',
    read: (value: string | number) => Number(value),
  },
} as const satisfies Record<string, Sort>

/** The ORDER BY of a list. */
export function orderSql(by: LinkListQuery['sort']): string {
  const sort: Sort = SORTS[by]
  return `${sort.by ?? `${sort.column} ${sort.order}`}, l.id ${sort.order}`
}

/** The cursor of the page that begins after this link. */
export function cursorAfter(last: LinkModel, by: LinkListQuery['sort']): string {
  const value = {
    target: last.targetRank * 4294967296 + last.visits28,
    visits: last.visits28,
    changed: last.updatedAt,
    made: last.createdAt,
    address: last.canonical,
  }[by]
  return Buffer.from(JSON.stringify([by, value, last.id])).toString('base64url')
}

/** What is beyond the cursor of the page before, as SQL. */
export function beyondCursor(query: LinkListQuery): {
  sql: string
  replacements: Record<string, unknown>
} {
  const sort: Sort = SORTS[query.sort]
  if (query.cursor === undefined) return { sql: 'TRUE', replacements: {} }
  const [value, cursorId] = readCursor(query.cursor, query.sort)
  const beyond = sort.order === 'DESC' ? '<' : '>'
  return value === null
    ? { sql: `(${sort.column} IS NOT NULL OR l.id ${beyond} :cursorId)`, replacements: { cursorId } }
    : {
        sql:
          `(${sort.column} ${beyond} :cursorValue OR (${sort.column} = :cursorValue AND l.id ` +
          `${beyond} :cursorId))`,
        replacements: { cursorId, cursorValue: sort.read(value) },
      }
}

type Cursor = [value: string | number | null, id: number]

/** Where a page ended that was sorted by `sort`: by another order it would mean another place. */
function readCursor(cursor: string, sort: LinkListQuery['sort']): Cursor {
  let parsed: unknown
  try {
    parsed = JSON.parse(Buffer.from(cursor, 'base64url').toString())
  } catch {
    parsed = null
  }
  const [of, value, id] = Array.isArray(parsed) ? (parsed as unknown[]) : []
  if (
    typeof of !== 'string' ||
    !(of in SORTS) ||
    !Number.isSafeInteger(id) ||
    !isPlace(of as keyof typeof SORTS, value)
  )
    throw fieldProblem('cursor', 'cursor: use the “next” of the page before, unchanged.', 400)
  if (of !== sort)
    throw fieldProblem(
      'cursor',
      `cursor: this is the “next” of a page sorted by “${of}”; leave it out to start again by “${sort}”.`,
    )
  return [value as Cursor[0], id as number]
}

/** Whether a value can be where a page of this order ended; a link without an address of its own has none. */
function isPlace(sort: keyof typeof SORTS, value: unknown): boolean {
  if (sort === 'visits' || sort === 'target') return Number.isSafeInteger(value)
  if (sort === 'address') return value === null || typeof value === 'string'
  return typeof value === 'string' && !Number.isNaN(Date.parse(value))
}
