import type { Connection } from 'mariadb'
import { readChanges, readRevision, type TableSource } from '../core/ledger-follower'
import { readDomainRows, readLinkRows, readLinkRowsById, readRuleRows, type Query } from '../core/rows'
import type { Privacy } from './observe'

/** Entries of the ledger read in one step. */
const ENTRIES_A_STEP = 2000

/** Queries over whichever connection is open. */
export const queryOf =
  (connection: () => Connection): Query =>
  (sql, values) =>
    connection().query(sql, [...values])

/** What the organisation stores of visitors. */
export async function readPrivacy(query: Query): Promise<Privacy> {
  const [row] = await query('SELECT honour_gpc, keep_network FROM organisation WHERE id = 1', [])
  return { honourGpc: Number(row?.honour_gpc ?? 1) === 1, keepNetwork: Number(row?.keep_network ?? 0) === 1 }
}

/** The register as the gateway reads it. */
export const tableSource = (query: Query): TableSource => ({
  revision: () => readRevision(query),
  changes: (after) => readChanges(query, after, { limit: ENTRIES_A_STEP }),
  domains: () => readDomainRows(query),
  links: () => readLinkRows(query),
  linksById: (ids) => readLinkRowsById(query, ids),
  rules: () => readRuleRows(query),
})
