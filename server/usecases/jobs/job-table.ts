import { QueryTypes, type Transaction } from 'sequelize'
import { LEASE_SECONDS, mayMove, type Expected, type JobKind } from '../../../core/jobs'
import type { Database } from '../../database/open'
import { retryOnLockConflict } from '../ledger/lock-conflicts'

/** A value of a column beside those of every job. */
export type JobValue = string | number | boolean | Date | null

/** What a job becomes when work on it is interrupted: nothing of that work counts. */
export interface Resume<State extends string = string> {
  state: State
  /** Shown with the job. */
  problem: string
  /** Whether the job has ended by that. */
  ended?: boolean
}

export interface Move<State extends string = string> {
  to: State
  /** Further columns, by their names in the database. */
  values?: Readonly<Record<string, JobValue>>
  /** Takes a lease; required where the state is one of work, and refused elsewhere. */
  resume?: Resume<State>
}

/**
 * The rows of one kind of job. Every transition names the state and version it expects; the loser of a race does
 * nothing.
 */
export interface JobTable<State extends string = string, Context = Transaction> {
  kind: JobKind<State>
  /** Moves a job; false where it is not as expected any more. The version rises by one. */
  move(expected: Expected<State>, move: Move<State>, context?: Context): Promise<boolean>
  /** Extends the lease and notes progress; false where the work belongs to nobody or to somebody else by now. */
  beat(expected: Expected<State>, progress?: Readonly<Record<string, JobValue>>): Promise<boolean>
  /** Within a transaction: whether the work still belongs to who expects it, which holds until the transaction ends. */
  hold(expected: Expected<State>, context: Context): Promise<boolean>
  /** Gives back what is in work without a valid lease; returns how many jobs. */
  giveBack(): Promise<number>
}

/** The rows of a kind in the database. Leases are measured by the database's clock: those of machines may differ. */
export function jobTable<State extends string>(db: Pick<Database, 'sequelize'>, kind: JobKind<State>): JobTable<State> {
  const update = async (
    sets: string[],
    where: string,
    replacements: Record<string, unknown>,
    transaction?: Transaction,
  ) => {
    const once = () =>
      db.sequelize.query(`UPDATE ${kind.table} SET ${sets.join(', ')} WHERE ${where}`, {
        replacements,
        transaction,
        type: QueryTypes.UPDATE,
      })
    // A statement of its own that lost a deadlock did nothing; within a transaction, all of that is tried again.
    const [, affected] = await (transaction ? once() : retryOnLockConflict(once))
    return affected
  }
  const assigned = (values: Readonly<Record<string, JobValue>>) =>
    Object.keys(values).map((name) => `${name} = :${name}`)
  const isHeld = async ({ id, state, version }: Expected<State>, transaction?: Transaction) => {
    const rows = await db.sequelize.query(
      `SELECT id FROM ${kind.table}
       WHERE id = :id AND state = :state AND version = :version AND leased_until IS NOT NULL LOCK IN SHARE MODE`,
      { replacements: { id, state, version }, type: QueryTypes.SELECT, transaction },
    )
    return rows.length === 1
  }
  return {
    kind,
    async move({ id, state, version }, { to, values = {}, resume }, transaction) {
      if (!mayMove(kind, state, to)) throw new Error(`A ${kind.table} cannot go from ${state} to ${to}.`)
      if (to in kind.working !== (resume !== undefined))
        throw new Error(`A lease belongs to work, and ${to} of ${kind.table} ${resume ? 'is none' : 'is work'}.`)
      const sets = ['state = :to', 'version = version + 1', ...assigned(values)]
      sets.push(
        resume ? `leased_until = DATE_ADD(UTC_TIMESTAMP(3), INTERVAL ${LEASE_SECONDS} SECOND)` : 'leased_until = NULL',
        'resume_state = :resumeState',
        'resume_problem = :resumeProblem',
        'resume_ended = :resumeEnded',
      )
      const changed = await update(
        sets,
        'id = :id AND state = :state AND version = :version',
        {
          ...values,
          to,
          id,
          state,
          version,
          resumeState: resume?.state ?? null,
          resumeProblem: resume?.problem.slice(0, 600) ?? null,
          resumeEnded: resume?.ended ?? false,
        },
        transaction,
      )
      return changed === 1
    },
    async beat({ id, state, version }, progress = {}) {
      const changed = await update(
        [`leased_until = DATE_ADD(UTC_TIMESTAMP(3), INTERVAL ${LEASE_SECONDS} SECOND)`, ...assigned(progress)],
        'id = :id AND state = :state AND version = :version AND leased_until IS NOT NULL',
        { ...progress, id, state, version },
      )
      // Two heartbeats within one millisecond: the second changes nothing, and is no loss.
      return changed === 1 || (await isHeld({ id, state, version }))
    },
    hold: (expected, transaction) => isHeld(expected, transaction),
    async giveBack() {
      const working = Object.keys(kind.working)
      if (working.length === 0) return 0
      const isAbandoned = 'leased_until < UTC_TIMESTAMP(3) AND state IN (:working) AND resume_state IS NOT NULL'
      // Read without locks first: an update that finds its rows by itself waits for those of every job at work.
      const abandoned = await db.sequelize.query<{ id: number }>(`SELECT id FROM ${kind.table} WHERE ${isAbandoned}`, {
        replacements: { working },
        type: QueryTypes.SELECT,
      })
      if (abandoned.length === 0) return 0
      return update(
        [
          'ended_at = IF(resume_ended, UTC_TIMESTAMP(3), ended_at)',
          'problem = COALESCE(resume_problem, problem)',
          'state = resume_state',
          'version = version + 1',
          'leased_until = NULL',
          'resume_state = NULL',
        ],
        `id IN (:ids) AND ${isAbandoned}`,
        { ids: abandoned.map(({ id }) => id), working },
      )
    },
  }
}
