import { QueryTypes, type Transaction } from 'sequelize'
import type { LedgerEntry } from '../../../core/schemas'
import type { Rewritten } from '../../../core/changes'
import { fromJson } from '../../database/json'
import type { Database } from '../../database/open'
import type { LedgerEntryModel } from '../../database/models/ledger-entry'
import { circleSurvey } from '../conflicts/survey'
import type { Actor } from '../ledger/change'
import { refuseUndo, toEntryView } from '../ledger/list-ledger'
import type { UndoRequest } from '../ledger/put-back'
import { linkState, readTags } from '../links/link-state'
import { Problem } from '../problem'
import { changeOverAt } from './apply-proposal'
import { OwnParts, refuseCircles } from './check-circles'
import { makeTakenSlugs, takeMadeSlugs } from './move-links'
import { makeTakenLinks, takeMadeLinks } from '../exchange/made-links'
import { undoRules } from '../exchange/made-rules'
import { withinOf, writeMany, type Part } from './write-many'

const PAGE = 500

/** Whether an entry keeps what it did to each link beside it. */
export async function hasParts(db: Database, entry: LedgerEntryModel): Promise<boolean> {
  if (entry.subjectKind !== 'links') return false
  const [row] = await db.sequelize.query(
    'SELECT 1 FROM ledger_entry_link WHERE entry_id = ? AND after_state IS NOT NULL LIMIT 1',
    { replacements: [entry.id], type: QueryTypes.SELECT },
  )
  // What was brought in may be rules alone.
  return row !== undefined || (await db.LedgerEntry.count({ where: { partOf: entry.id } })) > 0
}

/**
 * Undoes a change to many links as one: every field it changed goes back, all or none. Links somebody changed again
 * since are told, and nothing is done, unless `overwrite` says to go ahead; links that are gone are passed over.
 */
export async function undoMany(
  db: Database,
  actor: Actor,
  entry: LedgerEntryModel,
  request: UndoRequest,
): Promise<LedgerEntry> {
  await refuseUndo(db, actor, entry)
  const survey = await circleSurvey(db)
  const own = new OwnParts(survey)
  const count = Number((entry.afterState as { count?: number } | null)?.count ?? 0)
  let id: number
  try {
    id = await writeMany(db, actor, {
      async *parts(transaction) {
        for await (const page of partsBack(db, entry.id, transaction, request.overwrite)) {
          own.add(page)
          yield page
        }
      },
      about: {
        action: 'undo',
        subject: { kind: 'links', id: 0, label: entry.subjectLabel },
        reason: request.reason,
        before: { count },
        after: { count, words: 'puts back what was before' },
        undoesId: entry.id,
      },
      liveAt: (now) => changeOverAt(count, now),
      lastLook: (transaction) => refuseCircles(db, transaction, survey, own, survey.revision),
      async first({ transaction, keep }) {
        await takeMadeSlugs(db, transaction, entry.id, keep)
        await takeMadeLinks(db, transaction, entry.id, keep, request.overwrite)
      },
      async along(context) {
        const { transaction, entryId: madeId, hosts, keep } = context
        await makeTakenLinks(db, transaction, entry.id, hosts, keep)
        await makeTakenSlugs(db, transaction, entry.id, hosts, keep)
        await undoRules(db, withinOf(actor, context), entry.id)
        const [mine] = await db.LedgerEntry.update(
          { undoneById: madeId },
          { where: { id: entry.id, undoneById: null }, transaction },
        )
        if (mine === 0) throw new Problem(409, 'Cannot be undone', 'This entry has been undone already.')
      },
    })
  } catch (error) {
    const stale =
      error instanceof Problem && error.status === 409 ? (error.more.stale as string[] | undefined) : undefined
    if (!stale) throw error
    throw new Problem(
      409,
      'Would overwrite a later change',
      `Since then ${stale.length === 1 ? `${stale[0]} was` : `${stale.length} of these links were`} changed again. ` +
        'Undoing this would overwrite the later change.',
      [],
      { fields: [], later: [], stale },
    )
  }
  return toEntryView(db, (await db.LedgerEntry.findByPk(id))!)
}

async function* partsBack(
  db: Database,
  entryId: number,
  transaction: Transaction,
  overwrite: boolean,
): AsyncGenerator<Part[]> {
  for (let after = 0; ;) {
    const rows = await db.sequelize.query<{ link_id: number; before_state: unknown; after_state: unknown }>(
      `SELECT p.link_id, p.before_state, p.after_state FROM ledger_entry_link p JOIN link l ON l.id = p.link_id
       WHERE p.entry_id = ? AND p.link_id > ?
         AND p.before_state <> 'null' AND p.after_state <> 'null'
       ORDER BY p.link_id LIMIT ${PAGE}`,
      { replacements: [entryId, after], type: QueryTypes.SELECT, transaction },
    )
    if (rows.length === 0) return
    after = Number(rows.at(-1)!.link_id)
    const parts = rows.map((row) => ({
      linkId: Number(row.link_id),
      before: fromJson<Rewritten>(row.after_state),
      after: fromJson<Rewritten>(row.before_state),
    }))
    yield overwrite ? await asTheyAre(db, parts, transaction) : parts
  }
}

/** Parts that start from how the links stand, whoever changed them since. */
async function asTheyAre(db: Database, parts: readonly Part[], transaction: Transaction): Promise<Part[]> {
  const ids = parts.map(({ linkId }) => linkId)
  const links = await db.Link.findAll({ where: { id: ids }, transaction, lock: transaction.LOCK.UPDATE })
  const tags = await readTags(db, ids, transaction)
  const states = new Map(links.map((link) => [link.id, linkState(link, tags.get(link.id)!)]))
  return parts.map((part) => {
    const now = states.get(part.linkId)!
    const fields = Object.keys(part.after) as (keyof Rewritten)[]
    return { ...part, before: Object.fromEntries(fields.map((field) => [field, now[field]])) as Rewritten }
  })
}
