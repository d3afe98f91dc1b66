import { Op, QueryTypes } from 'sequelize'
import type { TargetModel } from '../../database/models/target'
import type { Database } from '../../database/open'

/** How long a lease holds by itself; a check ends well before. */
const LEASE_SECONDS = 240
/** Rows looked at for some to claim. */
const LOOKED_AT = 400

export interface ClaimOptions {
  worker: string
  most: number
  /** At most so many of one host at a time. */
  perHost: number
  /** Hosts that are being asked as often as they may be, with how many of theirs are under way. */
  busy: ReadonlyMap<string, number>
}

/**
 * Claims targets that are due: those somebody asked for first, then the longest due, hosts that may not be asked now
 * passed over. Any number of workers may call this at once: a lease is taken by one of them.
 */
export async function claimTargets(
  db: Database,
  { worker, most, perHost, busy }: ClaimOptions,
): Promise<TargetModel[]> {
  const full = [...busy].filter(([, count]) => count >= perHost).map(([host]) => host)
  const candidates = await db.sequelize.query<{ id: number; host: string }>(
    [1, 0]
      .map(
        (urgent) =>
          `(SELECT t.id, t.host FROM target t LEFT JOIN target_host h ON h.host = t.host
            WHERE t.urgent = ${urgent} AND t.due_at <= UTC_TIMESTAMP(3)
              AND (t.leased_until IS NULL OR t.leased_until < UTC_TIMESTAMP(3))
              AND (h.next_at IS NULL OR h.next_at <= UTC_TIMESTAMP(3))
              ${full.length > 0 ? 'AND t.host NOT IN (:full)' : ''}
            ORDER BY t.due_at LIMIT ${LOOKED_AT})`,
      )
      .join(' UNION ALL '),
    { replacements: { full }, type: QueryTypes.SELECT },
  )
  const counts = new Map(busy)
  const ids: number[] = []
  for (const { id, host } of candidates) {
    const count = counts.get(host) ?? 0
    if (count >= perHost) continue
    counts.set(host, count + 1)
    ids.push(Number(id))
    if (ids.length === most) break
  }
  if (ids.length === 0) return []
  const claim = `${worker} ${Math.random().toString(36).slice(2, 10)}`.slice(-120)
  await db.sequelize.query(
    `UPDATE target SET leased_by = :claim, leased_until = DATE_ADD(UTC_TIMESTAMP(3), INTERVAL :seconds SECOND)
     WHERE id IN (:ids) AND due_at <= UTC_TIMESTAMP(3)
       AND (leased_until IS NULL OR leased_until < UTC_TIMESTAMP(3))`,
    { replacements: { claim, seconds: LEASE_SECONDS, ids } },
  )
  return db.Target.findAll({ where: { id: ids, leasedBy: claim } })
}

/** Gives a target back unasked, due again after a while. */
export const putBack = (db: Database, target: TargetModel, waitMs: number): Promise<unknown> =>
  db.Target.update(
    { leasedUntil: null, leasedBy: null, dueAt: new Date(Date.now() + waitMs) },
    { where: { id: target.id, leasedBy: target.leasedBy } },
  )

/** Who looks for remedies has so long, before another may. */
const REMEDIES_MS = 300_000

/** Claims the target that waits longest for its remedies. */
export async function claimForRemedies(db: Database): Promise<TargetModel | undefined> {
  const free = {
    remediesDue: true,
    [Op.or]: [{ remediesAt: null }, { remediesAt: { [Op.lt]: new Date(Date.now() - REMEDIES_MS) } }],
  }
  const target = await db.Target.findOne({ where: free, order: [['remediesAt', 'ASC']] })
  if (!target) return undefined
  const [mine] = await db.Target.update({ remediesAt: new Date() }, { where: { ...free, id: target.id } })
  return mine > 0 ? target : undefined
}
