import { promisify } from 'node:util'
import { deflateRaw, inflateRaw } from 'node:zlib'
import { QueryTypes, Transaction } from 'sequelize'
import { eventsOf, readPart, writePart, type VisitEvent, type VisitPart } from '../../../core/visits'
import type { Database } from '../../database/open'

const squeeze = promisify(deflateRaw)
const unsqueeze = promisify(inflateRaw)

/** Octets as they are kept. */
export const packed = (octets: Uint8Array): Promise<Buffer> => squeeze(octets, { level: 1 }) as Promise<Buffer>
export const unpacked = (kept: Buffer): Promise<Buffer> => unsqueeze(kept) as Promise<Buffer>

/** A part of raw visits as the database lists it. */
export interface KeptPart {
  /** YYYY-MM-DD, UTC. */
  day: string
  id: number
  version: number
  events: number
}

/** The parts of some days (UTC, YYYY-MM-DD, both included), without what is in them. */
export async function listParts(
  db: Database,
  from: string,
  to: string,
  transaction?: Transaction,
): Promise<KeptPart[]> {
  const rows = await db.sequelize.query<KeptPart>(
    `SELECT DATE_FORMAT(day, '%Y-%m-%d') AS day, id, version, events FROM visit_part
     WHERE day >= ? AND day <= ? ORDER BY day, id`,
    { replacements: [from, to], type: QueryTypes.SELECT, transaction },
  )
  return rows.map(({ day, id, version, events }) => ({
    day,
    id: Number(id),
    version: Number(version),
    events: Number(events),
  }))
}

/** Reads parts of one day; those that are gone by now are left out. */
export async function readParts(
  db: Database,
  day: string,
  ids: readonly number[],
  transaction?: Transaction,
): Promise<Map<number, VisitPart>> {
  if (ids.length === 0) return new Map()
  const rows = await db.sequelize.query<{ id: number; data: Buffer }>(
    'SELECT id, data FROM visit_part WHERE day = ? AND id IN (?)',
    { replacements: [day, [...ids]], type: QueryTypes.SELECT, transaction },
  )
  return new Map(
    await Promise.all(rows.map(async ({ id, data }) => [Number(id), readPart(await unpacked(data))] as const)),
  )
}

/** Puts a part among the raw visits. */
export async function insertPart(db: Database, day: string, part: VisitPart, transaction: Transaction): Promise<void> {
  await db.sequelize.query('INSERT INTO visit_part (day, fresh, events, data) VALUES (?, FALSE, ?, ?)', {
    replacements: [day, part.length, await packed(writePart(part))],
    transaction,
  })
}

/**
 * Raw visits between two times, day by day: all, or those of the links named. Each day is read as it was at one moment:
 * parts that are merged meanwhile are neither skipped nor read twice.
 */
export async function* rawVisits(
  db: Database,
  from: Date,
  to: Date,
  only?: ReadonlySet<number>,
): AsyncGenerator<VisitEvent> {
  const parts = await listParts(db, from.toISOString().slice(0, 10), to.toISOString().slice(0, 10))
  for (const day of new Set(parts.map((part) => part.day))) {
    const transaction = await db.sequelize.transaction({
      isolationLevel: Transaction.ISOLATION_LEVELS.REPEATABLE_READ,
    })
    try {
      // One part after the other, so that others have their turn between two.
      for (const { id } of await listParts(db, day, day, transaction))
        for (const part of (await readParts(db, day, [id], transaction)).values())
          for (const event of eventsOf(part, only))
            if (event.at >= from.getTime() && event.at < to.getTime()) yield event
    } finally {
      await transaction.rollback()
    }
  }
}
