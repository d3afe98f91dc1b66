import { QueryTypes } from 'sequelize'
import type { MissModel } from '../../database/models/miss'
import { dayIn } from '../../../core/time/calendar-day'
import type { Database } from '../../database/open'
import { organisationDay } from './organisation-day'

/** Visitors that what answers a miss has served since it does: by its slug, by its rule, or as mended requests. */
export async function servedBy(db: Database, misses: readonly MissModel[]): Promise<Map<number, number>> {
  const served = new Map<number, number>()
  const { timeZone } = await organisationDay(db)
  for (const miss of misses) {
    if (!miss.answered || !miss.answeredBy || !miss.answeredAt) continue
    const { by, linkId, ruleId } = miss.answeredBy
    const [sql, id] =
      by === 'mended'
        ? ['SELECT SUM(served) AS count FROM miss_day WHERE miss_id = :id AND day >= :since', miss.id]
        : ruleId !== null
          ? ['SELECT SUM(visits) AS count FROM rule_day WHERE rule_id = :id AND day >= :since', ruleId]
          : ['SELECT SUM(visits) AS count FROM visit_day WHERE link_id = :id AND day >= :since', linkId]
    const [row] = await db.sequelize.query<{ count: string | null }>(sql as string, {
      replacements: { id, since: dayIn(timeZone, miss.answeredAt.getTime()) },
      type: QueryTypes.SELECT,
    })
    served.set(miss.id, Number(row?.count ?? 0))
  }
  return served
}
