import { QueryTypes, Transaction } from 'sequelize'
import { calendarOf, dayOfText, dayText, withoutRows, writePart } from '../../../core/visits'
import type { Database } from '../../database/open'
import { runChange, type Actor } from '../ledger/change'
import { findLink } from '../links/find-link'
import { listParts, packed, readParts } from './visit-parts'
import { utcDaysOf } from './visit-store'

const DAY_MS = 86_400_000
const { READ_COMMITTED } = Transaction.ISOLATION_LEVELS

/**
 * Forgets the visits of a link that are kept one by one, and those of slugs whose address it took over. What was
 * counted of them, by day and by month, stays until their day is counted anew; days that are not counted yet are
 * counted without them. Returns how many went.
 */
export async function forgetLinkVisits(db: Database, actor: Actor, id: number): Promise<{ forgotten: number }> {
  const { link, domain } = await findLink(db, id)
  const heirs = await db.sequelize.query<{ link_id: number }>('SELECT link_id FROM link_heir WHERE heir_id = ?', {
    replacements: [id],
    type: QueryTypes.SELECT,
  })
  const ids = new Set([id, ...heirs.map((row) => Number(row.link_id))])
  const days = [...new Set((await listParts(db, '1970-01-01', '9999-12-31')).map(({ day }) => day))]
  let forgotten = 0
  for (const day of days) forgotten += await forgetOfDay(db, day, ids)
  await runChange(db, actor, (change) =>
    change.record({
      action: 'forget-visits',
      // Nothing of the link itself changed.
      subject: { kind: 'organisation', id: 1, label: `${domain.host}/${link.slug}` },
      before: null,
      after: { words: `${forgotten.toLocaleString('en')} visits` },
    }),
  )
  return { forgotten }
}

function forgetOfDay(db: Database, day: string, ids: ReadonlySet<number>): Promise<number> {
  return db.sequelize.transaction({ isolationLevel: READ_COMMITTED }, async (transaction) => {
    const rows = await db.sequelize.query<{ id: number }>(
      'SELECT id FROM visit_part WHERE day = ? ORDER BY id FOR UPDATE',
      { replacements: [day], type: QueryTypes.SELECT, transaction },
    )
    const parts = await readParts(
      db,
      day,
      rows.map((row) => Number(row.id)),
      transaction,
    )
    let gone = 0
    for (const [partId, part] of parts) {
      const left = withoutRows(part, (row) => ids.has(part.numbers.linkId[row]!))
      if (left.length === part.length) continue
      gone += part.length - left.length
      await db.sequelize.query(
        'UPDATE visit_part SET data = ?, events = ?, version = version + 1 WHERE day = ? AND id = ?',
        { replacements: [await packed(writePart(left)), left.length, day, partId], transaction },
      )
    }
    if (gone > 0) await countWithout(db, day, gone, transaction)
    return gone
  })
}

/** Days that were counted with visits which are forgotten now hold all there is all the same. */
async function countWithout(db: Database, utcDay: string, gone: number, transaction: Transaction): Promise<void> {
  const utc = Date.parse(utcDay) / DAY_MS
  const rows = await db.sequelize.query<{ day: string; zone: string }>(
    "SELECT DATE_FORMAT(day, '%Y-%m-%d') AS day, zone FROM traffic_day WHERE day BETWEEN ? AND ?",
    { replacements: [dayText(utc - 1), dayText(utc + 1)], type: QueryTypes.SELECT, transaction },
  )
  const days = rows.filter(({ day, zone }) => utcDaysOf(calendarOf(zone), dayOfText(day)).includes(utc))
  if (days.length > 0)
    await db.sequelize.query('UPDATE traffic_day SET seen = GREATEST(seen, :gone) - :gone WHERE day IN (:days)', {
      replacements: { gone, days: days.map(({ day }) => day) },
      transaction,
    })
}
