import pLimit from 'p-limit'
import type { Database } from '../../database/open'
import { retryOnLockConflict } from '../ledger/lock-conflicts'
import type { ImportWork } from './import-jobs'
import { toKept, type JudgedRow } from './judged-row'

const ROWS_PER_STATEMENT = 1000
/** Pages of rows written at a time: the database works while the next page is put into words. */
const MAX_WRITERS = 3

/** Notes how far the work is; throws where nobody wants it any more. */
export type Tell = (step: string, done: number, total: number) => Promise<void>

/** Replaces what is stored of a file's rows; throws LeaseLost once the work counts no more. */
export async function writeRows(
  db: Database,
  id: number,
  work: ImportWork,
  rows: readonly JudgedRow[],
  tell: Tell,
): Promise<void> {
  await retryOnLockConflict(() =>
    db.sequelize.transaction(async (transaction) => {
      await work.hold(transaction)
      await db.sequelize.query('DELETE FROM intake_row WHERE intake_id = ?', { replacements: [id], transaction })
    }),
  )
  const limit = pLimit(MAX_WRITERS)
  let done = 0
  const write = async (from: number) => {
    const page = rows.slice(from, from + ROWS_PER_STATEMENT)
    const values = page.map((row, index) => [id, from + index + 1, ...valuesOf(row)])
    // A withdrawal comes before these rows or after them, never in between.
    await retryOnLockConflict(() =>
      db.sequelize.transaction(async (transaction) => {
        await work.hold(transaction)
        await db.sequelize.query(
          `INSERT INTO intake_row (intake_id, position, file, line, column_at, kind, code, cause, decision, address,
             destination, status, state, before_state, link_id, link_version, family, hash, source, why, would)
           VALUES ?`,
          { replacements: [values], transaction },
        )
      }),
    )
    await tell('writing', (done += page.length), rows.length)
  }
  try {
    await Promise.all(pagesOf(rows, ROWS_PER_STATEMENT).map((from) => limit(write, from)))
  } finally {
    limit.clearQueue()
  }
}

/** Where pages of rows begin. */
const pagesOf = ({ length }: readonly unknown[], size: number) =>
  Array.from({ length: Math.ceil(length / size) }, (_, page) => page * size)

const asJson = (value: object | null) => value && JSON.stringify(value)

const valuesOf = (row: JudgedRow) => [
  row.file.slice(0, 300),
  row.line,
  row.column,
  row.kind,
  row.code,
  (row.cause ?? '').slice(0, 300),
  row.decision,
  row.address.slice(0, 900),
  row.destination,
  row.status,
  asJson(toKept(row)),
  asJson(row.before),
  row.linkId,
  row.linkVersion,
  row.family,
  row.hash,
  row.source.slice(0, 300),
  row.why.slice(0, 900),
  row.would.slice(0, 500),
]
