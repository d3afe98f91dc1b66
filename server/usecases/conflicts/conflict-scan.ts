import { Op } from 'sequelize'
import type { ConflictScan } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { ConflictScanModel } from '../../database/models/conflict-scan'
import type { Actor } from '../ledger/change'
import { notHere } from '../problem'

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
  error: row.error ?? null,
})

/** Asks for a full scan; one that is waiting or under way already is what is told. */
export async function askForScan(db: Database, actor: Actor): Promise<ConflictScan> {
  return db.sequelize.transaction(async (transaction) => {
    const change = await db.ConflictScan.findOne({
      where: { state: ['queued', 'running'], cancel: false },
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
  if (!row) throw notHere('scan')
  return toScanView(row)
}

/** The newest scan; none where nobody ever asked for one. */
export async function lastScan(db: Database): Promise<{ scan: ConflictScan | null }> {
  const row = await db.ConflictScan.findOne({ order: [['id', 'DESC']] })
  return { scan: row && toScanView(row) }
}

/** Has a scan stop; one that waits stops at once, one under way at its next step. */
export async function cancelScan(db: Database, id: number): Promise<void> {
  const row = await db.ConflictScan.findByPk(id)
  if (!row) throw notHere('scan')
  await db.ConflictScan.update(
    { state: 'cancelled', cancel: true, endedAt: new Date() },
    { where: { id, state: 'queued' } },
  )
  await db.ConflictScan.update({ cancel: true }, { where: { id, state: 'running' } })
}

/** Takes the oldest waiting scan up; one a worker left under way is taken up anew. */
export async function takeScan(db: Database): Promise<ConflictScanModel | null> {
  const row = await db.ConflictScan.findOne({
    where: { state: { [Op.in]: ['queued', 'running'] } },
    order: [['id', 'ASC']],
  })
  await row?.update({ state: 'running', beganAt: new Date(), done: 0, total: 0, phase: '' })
  return row
}
