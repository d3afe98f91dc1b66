import { QueryTypes, type Transaction } from 'sequelize'
import { showHost } from '../../../core/address'
import { TARGET_RANKS } from '../../../core/targets'
import type { Link, LinkFilters, LinkListQuery } from '../../../core/schemas'
import type { Database } from '../../database/open'
import { organisationToday } from '../misses/organisation-day'
import { readTargets, toTargetView } from '../targets/target-view'
import { destinationHash, readTags, toLinkView } from './link-state'
import { fieldProblem } from '../problem'

type Replacements = Record<string, unknown>

interface Sort {
  column: string
  order: 'ASC' | 'DESC'
  /** The order as an index has it, where the column is reckoned. */
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

/** SQL that is true for links of an effective standing at `:now` (semantics §1 item 6). */
const ENDED = `(l.standing = 'ended' OR (l.standing <> 'retired' AND l.ends_at <= :now))`
const NOT_OVER = `(l.standing IN ('live', 'paused') AND (l.ends_at IS NULL OR l.ends_at > :now))`
const BEGUN = '(l.starts_at IS NULL OR l.starts_at <= :now)'
const PAUSED = `(l.standing = 'paused' AND (l.resumes_at IS NULL OR l.resumes_at > :now))`
export const STANDING_SQL = {
  retired: `l.standing = 'retired'`,
  ended: ENDED,
  scheduled: `${NOT_OVER} AND NOT ${BEGUN}`,
  paused: `${NOT_OVER} AND ${BEGUN} AND ${PAUSED}`,
  live: `${NOT_OVER} AND ${BEGUN} AND NOT ${PAUSED}`,
}

/** The WHERE clause of a set of filters, with what it needs filled in. */
export function linkWhere(filters: LinkFilters, now: Date): { sql: string; replacements: Replacements } {
  // Slugs that forward are told with their links.
  const parts = ['l.forwards_to IS NULL']
  const replacements: Replacements = { now }
  const words = (filters.q ?? '').toLowerCase().split(/\s+/).filter(Boolean).slice(0, 8)
  words.forEach((word, index) => {
    parts.push(`INSTR(l.search_text, CAST(:word${index} AS BINARY)) > 0`)
    replacements[`word${index}`] = word
  })
  if (filters.domain) {
    parts.push('l.domain_id = (SELECT id FROM domain WHERE host = :domain)')
    replacements.domain = filters.domain
  }
  if (filters.standing) parts.push(STANDING_SQL[filters.standing])
  if (filters.redirect)
    parts.push(filters.redirect === 'permanent' ? 'l.status IN (301, 308)' : 'l.status IN (302, 303, 307)')
  if (filters.target) {
    parts.push('l.target_rank = :targetRank')
    replacements.targetRank = filters.target === 'unknown' ? 0 : TARGET_RANKS[filters.target]
  }
  if (filters.tag) {
    parts.push(
      'EXISTS (SELECT 1 FROM link_tag lt JOIN tag t ON t.id = lt.tag_id WHERE lt.link_id = l.id AND t.name = :tag)',
    )
    replacements.tag = filters.tag
  }
  if (filters.owner) {
    parts.push('l.owner = :owner')
    replacements.owner = filters.owner
  }
  if (filters.destination) {
    parts.push('l.destination_hash = :destinationHash')
    replacements.destinationHash = destinationHash(filters.destination)
  }
  return { sql: parts.join(' AND '), replacements }
}

// A search looks at every link: reading the table through and sorting what fits beats hopping through it in an index's
// order.
const READ_THROUGH =
  'IGNORE INDEX FOR ORDER BY (link_by_visits, link_by_change, link_by_making, link_by_slug, link_by_target)'

/** One page of links, with the cursor of the next; each link with its visits of the last 28 days, oldest first. */
export async function listLinks(db: Database, query: LinkListQuery): Promise<{ items: Link[]; next: string | null }> {
  const now = new Date()
  const sort: Sort = SORTS[query.sort]
  const { sql, replacements } = linkWhere(query, now)
  const cursor = query.cursor === undefined ? undefined : readCursor(query.cursor, query.sort)
  const beyond = sort.order === 'DESC' ? '<' : '>'
  const where = cursor
    ? cursor[0] === null
      ? `${sql} AND (${sort.column} IS NOT NULL OR l.id ${beyond} :cursorId)`
      : `${sql} AND (${sort.column} ${beyond} :cursorValue OR (${sort.column} = :cursorValue AND l.id ` +
        `${beyond} :cursorId))`
    : sql
  const rows = await db.sequelize.query(
    `SELECT l.* FROM link l ${query.q?.trim() ? READ_THROUGH : ''} WHERE ${where} ORDER BY ` +
      `${sort.by ?? `${sort.column} ${sort.order}`}, l.id ${sort.order} LIMIT :limit`,
    {
      replacements: {
        ...replacements,
        limit: query.limit + 1,
        ...(cursor && { cursorValue: cursor[0] === null ? null : sort.read(cursor[0]), cursorId: cursor[1] }),
      },
      model: db.Link,
      mapToModel: true,
      type: QueryTypes.SELECT,
    },
  )
  const page = rows.slice(0, query.limit)
  const ids = page.map((link) => link.id)
  const [tags, daily, domains, forwarding, targets] = await Promise.all([
    readTags(db, ids),
    readDaily(db, ids),
    db.Domain.findAll(),
    readForwarding(db, ids),
    readTargets(
      db,
      page.map((link) => link.destinationHash),
    ),
  ])
  const byId = new Map(domains.map((domain) => [domain.id, domain]))
  const last = page.at(-1)
  const value =
    last &&
    {
      target: last.targetRank * 4294967296 + last.visits28,
      visits: last.visits28,
      changed: last.updatedAt,
      made: last.createdAt,
      address: last.canonical,
    }[query.sort]
  return {
    items: page.map((link) => ({
      ...toLinkView(link, byId.get(link.domainId)!, tags.get(link.id)!, now),
      daily: daily.get(link.id)!,
      aliases: forwarding.get(link.id) ?? [],
      target: toTargetView(targets.get(link.destinationHash)),
    })),
    next:
      rows.length > query.limit && last
        ? Buffer.from(JSON.stringify([query.sort, value, last.id])).toString('base64url')
        : null,
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
      `cursor: this is the “next” of a page sorted by “${of}”; leave it out to start anew by “${sort}”.`,
    )
  return [value as Cursor[0], id as number]
}

/** Whether a value can be where a page of this order ended; a link without an address of its own has none. */
function isPlace(sort: keyof typeof SORTS, value: unknown): boolean {
  if (sort === 'visits' || sort === 'target') return Number.isSafeInteger(value)
  if (sort === 'address') return value === null || typeof value === 'string'
  return typeof value === 'string' && !Number.isNaN(Date.parse(value))
}

/** Slugs that forward to links, by link id, those with most visits first. */
export async function readForwarding(
  db: Database,
  linkIds: readonly number[],
  transaction?: Transaction,
): Promise<Map<number, NonNullable<Link['aliases']>>> {
  const forwarding = new Map<number, NonNullable<Link['aliases']>>()
  if (linkIds.length === 0) return forwarding
  const rows = await db.sequelize.query<{
    id: number
    forwards_to: number
    slug: string
    canonical: string | null
    visits_28: number
    host: string
  }>(
    // Most links forward to none, by which the database thinks little of the index.
    'SELECT l.id, l.forwards_to, l.slug, l.canonical, l.visits_28, d.host FROM link l FORCE INDEX (link_forwards) ' +
      'JOIN domain d ON d.id = l.domain_id WHERE l.forwards_to IN (:linkIds) ORDER BY l.visits_28 DESC, l.id',
    { replacements: { linkIds: [...linkIds] }, type: QueryTypes.SELECT, transaction },
  )
  for (const row of rows) {
    const view = {
      id: row.id,
      address: `${showHost(row.host)}/${row.slug}`,
      slug: row.slug,
      same: row.canonical === null,
      visits28: Number(row.visits_28),
    }
    forwarding.set(Number(row.forwards_to), [...(forwarding.get(Number(row.forwards_to)) ?? []), view])
  }
  return forwarding
}

export const DAYS = 28

/** Visits a day over the last 28 days, oldest first, by link id. */
export async function readDaily(db: Database, linkIds: readonly number[], days = DAYS): Promise<Map<number, number[]>> {
  const daily = new Map<number, number[]>(linkIds.map((id) => [id, Array<number>(days).fill(0)]))
  if (linkIds.length === 0) return daily
  const today = await organisationToday(db)
  const rows = await db.sequelize.query<{ link_id: number; ago: number; visits: number }>(
    `SELECT link_id, DATEDIFF(:today, day) AS ago, visits FROM visit_day
     WHERE link_id IN (:linkIds) AND day > DATE_SUB(:today, INTERVAL :days DAY) AND day <= :today`,
    { replacements: { linkIds: [...linkIds], today, days }, type: QueryTypes.SELECT },
  )
  for (const row of rows) daily.get(Number(row.link_id))![days - 1 - Number(row.ago)] = Number(row.visits)
  return daily
}
