import { QueryTypes, type Transaction } from 'sequelize'
import type { Survey } from '../../../core/conflicts'
import type { Database } from '../../database/open'
import { readySurvey, surveyUnder } from '../conflicts/survey'
import { patiently } from './patience'
import { writeEntry, type Actor, type Record } from './write-entry'

export type { Actor, Record } from './write-entry'

export interface Change {
  /** The register as the finders see it, as it was when the change began: without the change's own rows. */
  readonly survey: Survey
  transaction: Transaction
  actor: Actor
  /** The moment of the whole change. */
  now: Date
  /** Writes a ledger entry with the next revision; returns its id. */
  record(entry: Record): Promise<number>
}

/**
 * Runs one change: rows and ledger entries in one transaction, or none of it. All changes queue at the
 * organisation's revision, so revisions become visible in their order and a gateway that has seen one has seen all
 * before it. The lock comes first, so that no two changes wait for each other in a circle; what a change to many links
 * holds is waited for without the lock, so that nobody else waits. `work` may run more than once. `surveyed` brings the
 * survey along, for changes that must be compared with all there is.
 */
export async function runChange<Result>(
  db: Database,
  actor: Actor,
  work: (change: Change) => Promise<Result>,
  options: { surveyed?: true } = {},
): Promise<Result> {
  const result = await patiently(async () => {
    if (options.surveyed) await readySurvey(db)
    return changeOnce(db, actor, work, options)
  })
  tellChanged()
  return result
}

function changeOnce<Result>(
  db: Database,
  actor: Actor,
  work: (change: Change) => Promise<Result>,
  options: { surveyed?: true },
): Promise<Result> {
  return db.sequelize.transaction(async (transaction) => {
    const rows = await db.sequelize.query<{ revision: number }>(
      'SELECT revision FROM organisation WHERE id = 1 FOR UPDATE',
      {
        type: QueryTypes.SELECT,
        transaction,
      },
    )
    let revision = Number(rows[0]?.revision ?? 0)
    const now = new Date()
    // Before anything is written: what this change writes may yet be taken back, and must never be taken in.
    const survey = options.surveyed && (await surveyUnder(db, transaction))
    const done = await work({
      get survey() {
        if (!survey) throw new Error('this change was not begun with a survey')
        return survey
      },
      transaction,
      actor,
      now,
      async record(entry) {
        revision++
        const row = await writeEntry(db, transaction, actor, entry, { revision, at: now })
        if (entry.links && entry.links.length > 0)
          await db.sequelize.query('INSERT INTO ledger_entry_link (entry_id, link_id) VALUES ?', {
            replacements: [entry.links.map((id) => [row.id, id])],
            transaction,
          })
        return row.id
      },
    })
    await db.sequelize.query('UPDATE organisation SET revision = ? WHERE id = 1', {
      replacements: [revision],
      transaction,
    })
    return done
  })
}

const afterChange = new Set<() => void>()

/** Tells whoever wants to know that a change was committed. */
export function tellChanged(): void {
  for (const listener of afterChange) listener()
}

/** Calls `listener` after each committed change of this process; the admin server nudges the gateways with it. */
export function onChange(listener: () => void): void {
  afterChange.add(listener)
}
