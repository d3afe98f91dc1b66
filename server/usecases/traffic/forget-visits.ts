import { QueryTypes } from 'sequelize'
import type { Database } from '../../database/open'

/** Rows a statement deletes, so that nothing waits long for it. */
const AT_ONCE = 5000

/** Forgets raw visits that are older than so many days, in steps; what was counted of them stays. */
export async function forgetVisits(db: Database, days: number): Promise<number> {
  let gone = 0
  for (;;) {
    const rows = await db.sequelize.query(
      'DELETE FROM visit WHERE at < DATE_SUB(UTC_TIMESTAMP(3), INTERVAL ? DAY) ORDER BY at LIMIT ?',
      { replacements: [days, AT_ONCE], type: QueryTypes.BULKDELETE },
    )
    gone += rows
    if (rows < AT_ONCE) return gone
  }
}

/** Destroys the secrets of days that are over, by the clock, whether or not anybody visits. */
export const destroyVisitorKeys = (db: Database): Promise<unknown> =>
  db.sequelize.query('DELETE FROM visitor_key WHERE day < UTC_DATE()')
