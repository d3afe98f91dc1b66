import { QueryTypes, Transaction } from 'sequelize'
import { withoutRows, writePart } from '../../../core/visits'
import type { Database } from '../../database/open'
import { runChange, type Actor } from '../ledger/change'
import { findLink } from '../links/find-link'
import { listParts, packed, readParts } from './visit-parts'

const { READ_COMMITTED } = Transaction.ISOLATION_LEVELS

/**
 * Forgets the visits of a link that are kept one by one, and those of slugs whose address it took over. What was
 * counted of them, by day and by month, stays. Days that are not counted yet are counted without them. Returns how
 * many went.
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
    return gone
  })
}
