import { literal, Op } from 'sequelize'
import type { Database } from '../../database/open'
import { ensureTargets } from './link-targets'

/**
 * Notices which destinations links were given or taken since a moment: new ones get their row, and what links lead to
 * now, or led to before and have a case for, is checked at once.
 */
export async function noticeChanges(db: Database, since: Date): Promise<void> {
  await ensureTargets(db, since)
  await db.sequelize.query(
    `UPDATE target t JOIN link l ON l.destination_hash = t.hash
     SET t.due_at = UTC_TIMESTAMP(3), t.urgent = TRUE
     WHERE l.updated_at >= :since AND NOT t.urgent AND t.checked_at < l.updated_at`,
    { replacements: { since } },
  )
  await db.sequelize.query(
    `UPDATE target t JOIN docket_case c ON c.case_key = t.hash AND c.lane = 'targets'
     JOIN docket_case_link x ON x.case_id = c.id JOIN link l ON l.id = x.link_id
     SET t.due_at = UTC_TIMESTAMP(3), t.urgent = TRUE
     WHERE l.updated_at >= :since AND c.state <> 'settled' AND NOT t.urgent
       AND (l.destination_hash <> t.hash OR l.standing NOT IN ('live', 'paused'))`,
    { replacements: { since } },
  )
}

/** Notes that checks rest, or go on; gives whether that is news. */
export async function notePause(db: Database, paused: boolean): Promise<boolean> {
  const [count] = await db.Organisation.update(
    { checksPausedSince: paused ? (literal('UTC_TIMESTAMP(3)') as never) : null },
    { where: { id: 1, checksPausedSince: paused ? null : { [Op.ne]: null } } },
  )
  return count > 0
}
