import { QueryTypes } from 'sequelize'
import type { Database } from '../../database/open'
import { DAYS } from '../links/listed-views'
import { organisationToday } from '../misses/organisation-day'

/**
 * Brings every link's and rule's figure of the last 28 days up to date, by the organisation's calendar. Returns how
 * many changed.
 */
export async function refreshVisitFigures(db: Database): Promise<number> {
  const today = await organisationToday(db)
  await db.sequelize.query(
    `UPDATE rule r
     LEFT JOIN (SELECT rule_id, SUM(visits) AS visits FROM rule_day WHERE day > DATE_SUB(:today, INTERVAL :days DAY)
       AND day <= :today GROUP BY rule_id) s ON s.rule_id = r.id
     SET r.visits_28 = COALESCE(s.visits, 0) WHERE r.visits_28 <> COALESCE(s.visits, 0)`,
    { replacements: { today, days: DAYS }, type: QueryTypes.UPDATE },
  )
  const [, changed] = await db.sequelize.query(
    `UPDATE link l
     LEFT JOIN (SELECT link_id, SUM(visits) AS visits FROM visit_day WHERE day > DATE_SUB(:today, INTERVAL :days DAY)
       AND day <= :today GROUP BY link_id) s
       ON s.link_id = l.id
     SET l.visits_28 = COALESCE(s.visits, 0)
     WHERE l.visits_28 <> COALESCE(s.visits, 0)`,
    { replacements: { today, days: DAYS }, type: QueryTypes.UPDATE },
  )
  return Number(changed ?? 0)
}
