import { QueryTypes, type Transaction } from 'sequelize'
import { standingAt } from '../../../core/table'
import type { Database } from '../../database/open'
import type { LinkModel } from '../../database/models/link'

/**
 * Of links that one entry of the ledger created, those that somebody may have requested and been redirected by. An
 * address that may have been seen is never given back: its slug stays reserved, whatever is undone. A link was seen by
 * nobody only if it has not begun yet, nothing but its creation has touched it, and no visit was counted; visits still
 * in a gateway's spool cannot exist then either.
 */
export async function observableLinks(
  db: Database,
  transaction: Transaction,
  links: readonly LinkModel[],
  createdBy: number,
  now: Date,
): Promise<Set<number>> {
  const isScheduled = (link: LinkModel) =>
    standingAt(
      {
        standing: link.standing!,
        startsAt: link.startsAt?.getTime() ?? null,
        endsAt: link.endsAt?.getTime() ?? null,
        resumesAt: null,
      },
      now.getTime(),
    ) === 'scheduled'
  const seen = new Set(links.filter((link) => !isScheduled(link)).map(({ id }) => id))
  const unsure = links.filter(({ id }) => !seen.has(id)).map(({ id }) => id)
  if (unsure.length === 0) return seen
  // It may have been live in between: by an edit, by a change to many, or by its visits.
  const rows = await db.sequelize.query<{ id: number }>(
    `SELECT subject_id AS id FROM ledger_entry WHERE subject_kind = 'link' AND subject_id IN (:ids) AND id > :createdBy
     UNION SELECT link_id FROM ledger_entry_link WHERE link_id IN (:ids) AND entry_id <> :createdBy
     UNION SELECT link_id FROM visit_day WHERE link_id IN (:ids)`,
    { replacements: { ids: unsure, createdBy }, type: QueryTypes.SELECT, transaction },
  )
  for (const { id } of rows) seen.add(Number(id))
  return seen
}
