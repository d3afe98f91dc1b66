import { QueryTypes, type Transaction } from 'sequelize'
import type { Query } from '../../core/rows'
import type { Database } from './open'

/** Queries through the pool, or within a transaction, for the readers that `core` shares between processes. */
export const queryOf =
  (db: Pick<Database, 'sequelize'>, transaction?: Transaction): Query =>
  (sql, values) =>
    db.sequelize.query<Record<string, unknown>>(sql, {
      replacements: [...values],
      type: QueryTypes.SELECT,
      transaction,
    })
