import { QueryTypes } from 'sequelize'
import { mayAct, SAVED_KINDS, type SavedKind, type SavedSet, type SavedSetCreate } from '../../../core/schemas'
import type { Database } from '../../database/open'
import { fromJson } from '../../database/json'
import type { Actor } from '../ledger/change'
import { fieldProblem, notFound, Problem } from '../problem'

/** Whose sets of everybody are. */
const EVERYBODY = 0

interface Row {
  id: number
  kind: SavedKind
  title: string
  value: unknown
}

const toView = ({ id, kind, title, value }: Row): SavedSet => ({
  id: Number(id),
  kind,
  title,
  value: fromJson<SavedSet['value']>(value),
})

/** A member's own saved sets and everybody's, newest first. */
export async function listSavedSets(db: Database, memberId: number): Promise<SavedSet[]> {
  const rows = await db.sequelize.query<Row>(
    'SELECT id, kind, title, value FROM saved_set WHERE member_id IN (:memberId, :everybody) ORDER BY id DESC',
    { replacements: { memberId, everybody: EVERYBODY }, type: QueryTypes.SELECT },
  )
  return rows.map(toView)
}

/**
 * Saves a set under its name, in place of one of that name. What is everybody's is for editors to save; each kind has
 * its limit, beyond which nothing is stored.
 */
export async function saveSet(db: Database, actor: Actor, memberId: number, input: SavedSetCreate): Promise<SavedSet> {
  const { isShared, max } = SAVED_KINDS[input.kind]
  if (isShared && !mayAct(actor.role, 'editor'))
    throw new Problem(403, 'Not allowed', 'Saving what everybody uses needs the role editor.')
  const of = { kind: input.kind, memberId: isShared ? EVERYBODY : memberId, title: input.title }
  const value = JSON.stringify(Object.fromEntries(Object.entries(input.value).filter(([, text]) => text)))
  return db.sequelize.transaction(async (transaction) => {
    const [row] = await db.sequelize.query<{ sets: number; known: number }>(
      `SELECT COUNT(*) AS sets, COALESCE(SUM(title = :title), 0) AS known FROM saved_set WHERE kind = :kind AND
        member_id = :memberId FOR UPDATE`,
      { replacements: of, type: QueryTypes.SELECT, transaction },
    )
    if (Number(row!.sets) >= max && Number(row!.known) === 0)
      throw fieldProblem('title', `At most ${max} can be saved. Remove one you no longer need.`)
    await db.sequelize.query(
      `INSERT INTO saved_set (kind, member_id, title, value, created_at)
       VALUES (:kind, :memberId, :title, :value, UTC_TIMESTAMP(3)) ON DUPLICATE KEY UPDATE value = VALUES(value)`,
      { replacements: { ...of, value }, transaction },
    )
    const [saved] = await db.sequelize.query<Row>(
      'SELECT id, kind, title, value FROM saved_set WHERE kind = :kind AND member_id = :memberId AND title = :title',
      { replacements: of, type: QueryTypes.SELECT, transaction },
    )
    return toView(saved!)
  })
}

/** Removes a saved set: one of the member's own, or, for editors, one of everybody's. */
export async function removeSavedSet(db: Database, actor: Actor, memberId: number, id: number): Promise<void> {
  const owners = mayAct(actor.role, 'editor') ? [memberId, EVERYBODY] : [memberId]
  const [, removed] = await db.sequelize.query('DELETE FROM saved_set WHERE id = :id AND member_id IN (:owners)', {
    replacements: { id, owners },
    type: QueryTypes.UPDATE,
  })
  if (removed === 0) throw notFound('saved set')
}
