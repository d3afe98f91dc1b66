import type { Database } from '../../database/open'

/** What misses are kept for, in days: tokens, single requests of nobody else, and all of it. */
export interface MissDays {
  tokens: number
  single: number
  all: number
}

/** Forgets misses nobody asks for any more, but for those somebody decided about, and the tokens of days past. */
export async function forgetMisses(db: Database, { tokens, single, all }: MissDays): Promise<void> {
  const run = (sql: string, days: number) => db.sequelize.query(sql, { replacements: { days } })
  await run('DELETE FROM miss_visitor WHERE day < DATE_SUB(UTC_DATE(), INTERVAL :days DAY)', tokens)
  await run('DELETE FROM miss_cut WHERE hour < DATE_SUB(UTC_TIMESTAMP(3), INTERVAL :days DAY)', all)
  const over = 'last_at < DATE_SUB(UTC_TIMESTAMP(3), INTERVAL :days DAY)'
  const undecided = "(noise IS NULL OR noise NOT IN ('decided', 'shape')) AND NOT answered"
  await run(`DELETE FROM miss WHERE ${over} AND ${undecided}`, all)
  await run(
    `DELETE m FROM miss m LEFT JOIN (SELECT miss_id, SUM(requests) AS requests FROM miss_day GROUP BY miss_id) d
     ON d.miss_id = m.id WHERE m.${over} AND ${undecided} AND COALESCE(d.requests, 0) <= 1`,
    single,
  )
  for (const table of ['miss_day', 'miss_referrer'])
    await db.sequelize.query(`DELETE t FROM ${table} t LEFT JOIN miss m ON m.id = t.miss_id WHERE m.id IS NULL`)
}
