import { QueryTypes } from 'sequelize'
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
} from '../../../core/rows'
import type { Database } from '../../database/open'

const ruleReader = rowReader(RULE_FIELDS, 'table')
type Raw = Record<string, unknown>

const select = (db: Database, sql: string, replacements: unknown[] = []) =>
  db.sequelize.query<Raw>(sql, { replacements, type: QueryTypes.SELECT })

/** Every domain, as the table needs it. */
export const readDomainRows = async (db: Database): Promise<DomainRow[]> =>
  (await select(db, `SELECT ${DOMAIN_COLUMNS.join(', ')} FROM domain`)).map(toDomainRow)

/** Every rule that is switched on, in the order rules are asked. */
export const readRuleRows = async (db: Database): Promise<RuleRow[]> =>
  (
    await select(db, `SELECT ${ruleReader.columns.join(', ')} FROM rule WHERE active ORDER BY domain_id, position, id`)
  ).map(ruleReader.fromColumns)

/** The link that has an address, as the table needs it. */
export const readLinkRow = async (db: Database, domainId: number, canonical: string): Promise<LinkRow | undefined> =>
  toLinkRows(await select(db, `${LINK_SELECT} WHERE l.domain_id = ? AND l.canonical = ?`, [domainId, canonical]))[0]
