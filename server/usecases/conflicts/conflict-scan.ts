import { SCAN_JOB } from '../../../core/jobs'
import type { ConflictScan } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { ConflictScanModel } from '../../database/models/conflict-scan'
import { jobTable } from '../jobs/job-table'
import { LeasedWork } from '../jobs/leased-work'
import type { Actor } from '../ledger/change'
import { notFound } from '../problem'

const iso = (date: Date | null | undefined) => date?.toISOString() ?? null

/** A scan as the API tells it. */
export const toScanView = (row: ConflictScanModel): ConflictScan => ({
  id: row.id,
  state: row.state,
  phase: row.phase,
  done: row.done,
  total: row.total,
  found: row.found,
  askedBy: row.askedBy,
  askedAt: row.askedAt.toISOString(),
  beganAt: iso(row.beganAt),
  endedAt: iso(row.endedAt),
  error: row.problem || null,
})

/** Asks for a full scan; one that is waiting or under way already is what is told. */
export async function askForScan(db: Database, actor: Actor): Promise<ConflictScan> {
  return db.sequelize.transaction(async (transaction) => {
    const change = await db.ConflictScan.findOne({
      where: { state: ['queued', 'running'] },
      order: [['id', 'DESC']],
      transaction,
      lock: transaction.LOCK.UPDATE,
    })
    return toScanView(
      change ??
        (await db.ConflictScan.create({ askedBy: actor.name.slice(0, 160), askedAt: new Date() }, { transaction }).then(
          (row) => row.reload({ transaction }),
        )),
    )
  })
}

export async function readScan(db: Database, id: number): Promise<ConflictScan> {
  const row = await db.ConflictScan.findByPk(id)
  if (!row) throw notFound('scan')
  return toScanView(row)
}

/** The newest scan; none where nobody ever asked for one. */
export async function lastScan(db: Database): Promise<{ scan: ConflictScan | null }> {
  const row = await db.ConflictScan.findOne({ order: [['id', 'DESC']] })
  return { scan: row && toScanView(row) }
}

const scanJobs = (db: Database) => jobTable(db, SCAN_JOB)

/** Cancels a scan; one under way stops at its next step. */
export async function cancelScan(db: Database, id: number): Promise<void> {
  // The worker may take it up in between: then it is cancelled as what it is by then.
  for (;;) {
    const row = await db.ConflictScan.findByPk(id)
    if (!row) throw notFound('scan')
    const { state } = row
    if (state !== 'queued' && state !== 'running') return
    const expected = { id, state, version: row.version! }
    if (await scanJobs(db).move(expected, { to: 'cancelled', values: { ended_at: new Date() } })) return
  }
}

/** Takes the oldest queued scan up; one whose worker was killed is queued again. */
export async function takeScan(db: Database): Promise<ScanWork | undefined> {
  await scanJobs(db).giveBack()
  const row = await db.ConflictScan.findOne({ where: { state: 'queued' }, order: [['id', 'ASC']] })
  return (
    (row &&
      LeasedWork.begin(
        scanJobs(db),
        { id: row.id, state: 'queued', version: row.version! },
        'running',
        { state: 'queued', problem: '' },
        { began_at: new Date(), done: 0, total: 0, phase: '' },
      )) ??
    undefined
  )
}

/** Work on a scan. */
export type ScanWork = LeasedWork<ConflictScan['state']>
