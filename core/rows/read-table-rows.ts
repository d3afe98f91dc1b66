import { DOMAIN_COLUMNS, toDomainRow, type DomainRow } from './domain'
import { rowReader } from './field'
import { LINK_SELECT, toLinkRows } from './link-select'
import type { LinkRow } from './link'
import { RULE_FIELDS, type RuleRow } from './rule'

/** Runs one SQL statement with `?` marks and returns its rows; the caller brings its own connection or transaction. */
export type Query = (sql: string, values: readonly unknown[]) => Promise<Record<string, unknown>[]>

// Most links forward to none, for which the database takes the index for useless and reads the whole table instead.
const FORWARDING_SELECT = LINK_SELECT.replace('FROM link l', 'FROM link l FORCE INDEX (link_forwards)')

const ruleReader = rowReader(RULE_FIELDS, 'table')
/** Links read in one step: no answer of the database grows without bound, and others have their turn in between. */
const LINKS_A_STEP = 2000

/** Every domain, as the table needs it. One that drifted is included: its visitors still arrive. */
export const readDomainRows = async (query: Query): Promise<DomainRow[]> =>
  (await query(`SELECT ${DOMAIN_COLUMNS.join(', ')} FROM domain`, [])).map(toDomainRow)

/** Every active rule, in the order of precedence. */
export const readRuleRows = async (query: Query): Promise<RuleRow[]> =>
  (
    await query(`SELECT ${ruleReader.columns.join(', ')} FROM rule WHERE active ORDER BY domain_id, position, id`, [])
  ).map(ruleReader.fromColumns)

/** All links, page by page in the order of their ids. */
export async function* readLinkRows(query: Query): AsyncGenerator<LinkRow[]> {
  for (let after = 0; ;) {
    const rows = await query(`${LINK_SELECT} WHERE l.id > ? ORDER BY l.id LIMIT ${LINKS_A_STEP}`, [after])
    if (rows.length === 0) return
    after = Number(rows.at(-1)!.id)
    yield toLinkRows(rows)
  }
}

/** The links of these ids that have an address, and the slugs that forward to them. */
export async function readLinkRowsById(query: Query, ids: readonly number[]): Promise<LinkRow[]> {
  const links: LinkRow[] = []
  for (let from = 0; from < ids.length; from += LINKS_A_STEP) {
    const some = ids.slice(from, from + LINKS_A_STEP)
    const marks = some.map(() => '?').join(',')
    const rows = await query(
      `${LINK_SELECT} WHERE l.id IN (${marks}) UNION ${FORWARDING_SELECT} WHERE l.forwards_to IN (${marks})`,
      [...some, ...some],
    )
    for (const link of toLinkRows(rows)) links.push(link)
  }
  return links
}

/** The link at an address. */
export const readLinkRow = async (query: Query, domainId: number, canonical: string): Promise<LinkRow | undefined> =>
  toLinkRows(await query(`${LINK_SELECT} WHERE l.domain_id = ? AND l.canonical = ?`, [domainId, canonical]))[0]
