import type { Connection } from 'mariadb'
import {
  DOMAIN_COLUMNS,
  LINK_SELECT,
  RULE_FIELDS,
  rowReader,
  toDomainRow,
  toLinkRows,
  type DomainRow,
  type LinkRow,
  type RuleRow,
} from '../core/rows'

const ruleReader = rowReader(RULE_FIELDS, 'table')

type Raw = Record<string, unknown>

/** Every domain. A domain that drifted still answers: its visitors are the last to be told. */
export async function readDomains(connection: Connection): Promise<DomainRow[]> {
  const rows: Raw[] = await connection.query(`SELECT ${DOMAIN_COLUMNS.join(', ')} FROM domain`)
  return rows.map(toDomainRow)
}

/** So many are taken in before visitors have their turn. */
const LINKS_A_STEP = 2000

/** All links in steps by id, so that no answer of the database grows without bound. */
export async function* readLinks(connection: Connection): AsyncGenerator<LinkRow[]> {
  let after = 0
  for (;;) {
    const rows: Raw[] = await connection.query(`${LINK_SELECT} WHERE l.id > ? ORDER BY l.id LIMIT ${LINKS_A_STEP}`, [
      after,
    ])
    if (rows.length === 0) return
    after = Number(rows.at(-1)!.id)
    yield toLinkRows(rows)
  }
}

/** The links of these ids that exist now, and the slugs that forward to them. */
export async function readLinksById(connection: Connection, ids: readonly number[]): Promise<LinkRow[]> {
  const links: LinkRow[] = []
  for (let from = 0; from < ids.length; from += LINKS_A_STEP) {
    const some = ids.slice(from, from + LINKS_A_STEP)
    const marks = some.map(() => '?').join(',')
    const rows: Raw[] = await connection.query(
      `${LINK_SELECT} WHERE l.id IN (${marks}) UNION ${LINK_SELECT} WHERE l.forwards_to IN (${marks})`,
      [...some, ...some],
    )
    for (const link of toLinkRows(rows)) links.push(link)
  }
  return links
}

/** Every rule that is switched on, in the order rules are asked. */
export async function readRules(connection: Connection): Promise<RuleRow[]> {
  const rows: Raw[] = await connection.query(
    `SELECT ${ruleReader.columns.join(', ')} FROM rule WHERE active ORDER BY domain_id, position, id`,
  )
  return rows.map(ruleReader.fromColumns)
}
