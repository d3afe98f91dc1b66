import { AsyncLocalStorage } from 'node:async_hooks'
import { QueryTypes, type Transaction } from 'sequelize'
import type { Survey, SurveyChange } from '../../../core/conflicts'
import type { Database } from '../../database/open'
import { readChanged } from '../conflicts/read-survey'
import { readySurvey, surveyUnder } from '../conflicts/survey'
import { isLockConflict, retryOnLockConflict } from './lock-conflicts'
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

type Work<Result> = (change: Change) => Promise<Result>

/**
 * Runs one change: rows and ledger entries in one transaction, or none of it. All changes queue at the
 * organisation's revision, so revisions become visible in their order and a gateway that has seen one has seen all
 * before it. The lock comes first, so that no two changes wait for each other in a circle; what a change to many links
 * holds is waited for without the lock, so that nobody else waits. `work` may run more than once. `surveyed` brings the
 * survey along, for changes that must be compared with all there is. Within `runTogether` it is one of several changes
 * in one transaction.
 */
export async function runChange<Result>(
  db: Database,
  actor: Actor,
  work: Work<Result>,
  options: { surveyed?: true } = {},
): Promise<Result> {
  const together = batches.getStore()
  if (together) return together.run(work)
  const result = await retryOnLockConflict(async () => {
    if (options.surveyed) await readySurvey(db)
    return locked(db, actor, options, (open) => open.run(work))
  })
  tellChanged()
  return result
}

/**
 * Runs several changes in one transaction, under one lock: each with entries of its own, and one that is refused takes
 * none of the others along. `work` calls `runChange` for each; it may run more than once, and what it returns is
 * written once it resolves. An error that `isLockConflict` must not be caught by it: the transaction is gone then.
 */
export async function runTogether<Result>(db: Database, actor: Actor, work: () => Promise<Result>): Promise<Result> {
  const result = await retryOnLockConflict(async () => {
    await readySurvey(db)
    return locked(db, actor, { surveyed: true }, (open) => batches.run(open, work))
  })
  tellChanged()
  return result
}

const batches = new AsyncLocalStorage<OpenChanges>()

/** A transaction that holds the lock of all changes, and the changes made in it so far. */
class OpenChanges {
  private readonly now = new Date()
  private changes = 0
  /** What gives the survey back as it was, newest last. */
  private readonly inverses: SurveyChange[] = []

  constructor(
    private readonly db: Database,
    private readonly actor: Actor,
    private readonly transaction: Transaction,
    readonly survey: Survey | undefined,
    public revision: number,
  ) {}

  /** Makes one change; where it is refused, nothing of it is left. */
  async run<Result>(work: Work<Result>): Promise<Result> {
    const { db, actor, transaction, survey, now } = this
    const savepoint = `change_${++this.changes}`
    const before = this.revision
    const isNested = batches.getStore() === this
    const links: number[] = []
    if (isNested) await this.query(`SAVEPOINT ${savepoint}`)
    try {
      const done = await work({
        get survey() {
          if (!survey) throw new Error('this change was not begun with a survey')
          return survey
        },
        transaction,
        actor,
        now,
        record: async (entry) => {
          this.revision++
          const row = await writeEntry(db, transaction, actor, entry, { revision: this.revision, at: now })
          if (entry.links && entry.links.length > 0)
            await db.sequelize.query('INSERT INTO ledger_entry_link (entry_id, link_id) VALUES ?', {
              replacements: [entry.links.map((id) => [row.id, id])],
              transaction,
            })
          if (entry.subject.kind === 'link') links.push(entry.subject.id)
          return row.id
        },
      })
      if (isNested) await this.show(links)
      return done
    } catch (error) {
      // A deadlock has rolled all of it back already.
      if (isNested && !isLockConflict(error)) await this.query(`ROLLBACK TO SAVEPOINT ${savepoint}`)
      this.revision = before
      throw error
    }
  }

  /** Shows the survey what this change has written, for the next one in the same transaction. */
  private async show(links: readonly number[]): Promise<void> {
    if (!this.survey || links.length === 0) return
    const rows = await readChanged(this.db, { links: [...new Set(links)], domains: [], rules: [] }, this.transaction)
    this.inverses.push(this.survey.lend(rows))
  }

  /** Gives the survey back without the transaction's rows: they come by the ledger once they are committed. */
  hide(): void {
    for (const inverse of this.inverses.reverse()) this.survey!.lend(inverse)
  }

  private query = (sql: string) => this.db.sequelize.query(sql, { transaction: this.transaction })
}

/** Changes of this process wait for their turn here rather than for a row lock, which would hold a connection each. */
const turns = new WeakMap<Database, Promise<unknown>>()

function inTurn<Result>(db: Database, work: () => Promise<Result>): Promise<Result> {
  const before = turns.get(db) ?? Promise.resolve()
  const done = before.then(work)
  turns.set(
    db,
    done.catch(() => undefined),
  )
  return done
}

function locked<Result>(
  db: Database,
  actor: Actor,
  options: { surveyed?: true },
  work: (open: OpenChanges) => Promise<Result>,
): Promise<Result> {
  return inTurn(db, () =>
    db.sequelize.transaction(async (transaction) => {
      const [row] = await db.sequelize.query<{ revision: number }>(
        'SELECT revision FROM organisation WHERE id = 1 FOR UPDATE',
        { type: QueryTypes.SELECT, transaction },
      )
      // Before anything is written: what these changes write may yet be taken back, and must never be taken in.
      const survey = options.surveyed && (await surveyUnder(db, transaction))
      const open = new OpenChanges(db, actor, transaction, survey, Number(row?.revision ?? 0))
      try {
        const done = await work(open)
        await db.sequelize.query('UPDATE organisation SET revision = ? WHERE id = 1', {
          replacements: [open.revision],
          transaction,
        })
        return done
      } finally {
        open.hide()
      }
    }),
  )
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
