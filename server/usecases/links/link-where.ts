import { OPEN_STANDINGS } from '../../../core/rows/domain'
import type { LinkFilters } from '../../../core/schemas'
import { readSearch, type SearchTerm } from '../../../core/search'
import { TARGET_RANKS } from '../../../core/targets'
import { destinationHash } from './link-state'

type Replacements = Record<string, unknown>

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

const FAULTY_SQL = `l.target_rank IN (${TARGET_RANKS.doubtful}, ${TARGET_RANKS.broken})`
const NEVER_SQL = 'l.visits_28 = 0 AND NOT EXISTS (SELECT 1 FROM visit_day v WHERE v.link_id = l.id)'
const WAITING_SQL =
  'l.domain_id IN (SELECT id FROM domain WHERE standing NOT IN ' +
  `(${OPEN_STANDINGS.map((standing) => `'${standing}'`).join(', ')}))`
const inDays = (now: Date, days: number) => new Date(now.getTime() + days * 86_400_000)

/** The views of the register: what each is of, as SQL with `:now` and `:endingBy`. */
export const VIEW_SQL = {
  faulty: FAULTY_SQL,
  ending: `${NOT_OVER} AND l.ends_at <= :endingBy`,
  never: NEVER_SQL,
  waiting: WAITING_SQL,
}

/** The WHERE clause of a set of filters, with what it needs filled in. */
export function linkWhere(filters: LinkFilters, now: Date): { sql: string; replacements: Replacements } {
  // Slugs that forward are told with their links.
  const parts = ['l.forwards_to IS NULL']
  const replacements: Replacements = { now }
  const alternatives = readSearch(filters.q ?? '')
  if (alternatives.length > 0)
    parts.push(`(${alternatives.map((terms, at) => termsSql(terms, at, replacements)).join(' OR ')})`)
  if (filters.domain) {
    parts.push('l.domain_id = (SELECT id FROM domain WHERE host = :domain)')
    replacements.domain = filters.domain
  }
  if (filters.standing) parts.push(STANDING_SQL[filters.standing])
  if (filters.redirect)
    parts.push(filters.redirect === 'permanent' ? 'l.status IN (301, 308)' : 'l.status IN (302, 303, 307)')
  if (filters.target === 'faulty') parts.push(FAULTY_SQL)
  else if (filters.target) {
    parts.push('l.target_rank = :targetRank')
    replacements.targetRank = filters.target === 'unknown' ? 0 : TARGET_RANKS[filters.target]
  }
  if (filters.endsWithin !== undefined) {
    parts.push(`${NOT_OVER} AND l.ends_at <= :endsBy`)
    replacements.endsBy = inDays(now, filters.endsWithin)
  }
  if (filters.changedWithin !== undefined) {
    parts.push('l.updated_at >= :changedSince')
    replacements.changedSince = inDays(now, -filters.changedWithin)
  }
  if (filters.visited === 'never') parts.push(NEVER_SQL)
  if (filters.waiting) parts.push(WAITING_SQL)
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

/** SQL for links whose searched text contains all terms; `at` keeps the names of its replacements apart. */
function termsSql(terms: readonly SearchTerm[], at: number, replacements: Replacements): string {
  const parts = terms.map(({ text, exact }, index) => {
    const name = `term${at}x${index}`
    replacements[name] = text
    const contains = `INSTR(l.search_text, CAST(:${name} AS BINARY)) > 0`
    if (exact === undefined || exact === text) return contains
    // The first line of the searched text is the short address.
    replacements[`${name}exact`] = `${exact}\n`
    return `(${contains} OR INSTR(l.search_text, CAST(:${name}exact AS BINARY)) = 1)`
  })
  return `(${parts.join(' AND ')})`
}
