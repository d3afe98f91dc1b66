import { QueryTypes } from 'sequelize'
import type { Link, LinkListQuery } from '../../../core/schemas'
import { readSearch, type IdSet, type SearchTerm } from '../../../core/search'
import type { LinkModel } from '../../database/models/link'
import type { Database } from '../../database/open'
import { beyondCursor, cursorAfter, orderSql } from './link-order'
import { linkWhere } from './link-where'
import { toListedViews } from './listed-views'
import { linksAt } from './links-at'
import { findCandidates } from './search/candidates'
import { findSimilar } from './search/similar'

// Where a search has to look at every link, reading the table through and sorting what fits beats hopping through it in
// an index's order.
const READ_THROUGH =
  'IGNORE INDEX FOR ORDER BY (link_by_visits, link_by_change, link_by_making, link_by_slug, link_by_target)'
/** Candidates of a search that are looked up one by one. */
const MAX_LOOKED_UP = 3000
/** With more candidates, the list is read in its order, up to so many links, and candidates are picked out. */
const MAX_WALKED = 40_000
/** Candidates picked for each row of a page: some do not contain the searched text. */
const SPARE = 3
/** If that finds too few, up to so many candidates are looked up; with more, all links are read. */
const MAX_GATHERED = 60_000
/** A search that finds fewer links also lists similar ones. */
const FEW = 5

/** One page of links, with the cursor of the next; each link with its visits of the last 28 days, oldest first. */
export async function listLinks(
  db: Database,
  query: LinkListQuery,
): Promise<{ items: Link[]; next: string | null; similar?: Link[] }> {
  const now = new Date()
  const alternatives = readSearch(query.q ?? '')
  const rows = await readRows(db, query, now, alternatives.length > 0 ? await findCandidates(db, alternatives) : null)
  const page = rows.slice(0, query.limit)
  const similar =
    alternatives.length === 1 && query.cursor === undefined && rows.length < Math.min(FEW, query.limit + 1)
      ? await readSimilar(db, query, now, alternatives[0]!)
      : []
  const views = await toListedViews(db, [...page, ...similar], now)
  const last = page.at(-1)
  return {
    items: views.slice(0, page.length),
    next: rows.length > query.limit && last ? cursorAfter(last, query.sort) : null,
    ...(similar.length > 0 && { similar: views.slice(page.length) }),
  }
}

/**
 * The rows of one page, and one more where there are further ones. `candidates` are the links a search may mean, null
 * without one, undefined where the index does not tell.
 */
async function readRows(
  db: Database,
  query: LinkListQuery,
  now: Date,
  candidates: IdSet | null | undefined,
): Promise<LinkModel[]> {
  const { sql, replacements } = linkWhere(query, now)
  const beyond = beyondCursor(query)
  Object.assign(replacements, beyond.replacements, { limit: query.limit + 1 })
  const order = orderSql(query.sort)
  const among = async (ids?: readonly number[], hint = '') =>
    db.sequelize.query(
      `SELECT l.* FROM link l ${hint} WHERE ${sql} AND ${beyond.sql} ${ids ? 'AND l.id IN (:ids)' : ''} ` +
        `ORDER BY ${order} LIMIT :limit`,
      {
        replacements: { ...replacements, ids: [0, ...(ids ?? [])] },
        model: db.Link,
        mapToModel: true,
        type: QueryTypes.SELECT,
      },
    )
  if (query.address !== undefined) return among(await linksAt(db, query.address))
  if (candidates === null) return among()
  if (candidates === undefined) return among(undefined, READ_THROUGH)
  const { size } = candidates
  if (size <= MAX_LOOKED_UP) return among([...candidates])

  const highest = Number(await db.Link.max('id'))
  const enough = SPARE * (query.limit + 1)
  const walked = await db.sequelize.query<{ id: number }>(
    `SELECT l.id FROM link l WHERE ${beyond.sql} ORDER BY ${order} LIMIT :walk`,
    {
      replacements: { ...beyond.replacements, walk: Math.min(MAX_WALKED, Math.ceil((enough * 1.5 * highest) / size)) },
      type: QueryTypes.SELECT,
    },
  )
  const first = walked.map(({ id }) => Number(id)).filter((id) => candidates.has(id))
  const rows = await among(first.slice(0, enough))
  if (rows.length > query.limit || walked.length === 0) return rows
  return size <= MAX_GATHERED ? among([...candidates]) : among(undefined, READ_THROUGH)
}

/** What a search that found little may have meant, nearest first, under the other filters. */
async function readSimilar(
  db: Database,
  query: LinkListQuery,
  now: Date,
  terms: readonly SearchTerm[],
): Promise<LinkModel[]> {
  const ids = await findSimilar(db, terms, query.limit)
  if (ids.length === 0) return []
  const { sql, replacements } = linkWhere({ ...query, q: undefined }, now)
  return db.sequelize.query(`SELECT l.* FROM link l WHERE ${sql} AND l.id IN (:ids) ORDER BY FIELD(l.id, :ids)`, {
    replacements: { ...replacements, ids },
    model: db.Link,
    mapToModel: true,
    type: QueryTypes.SELECT,
  })
}
