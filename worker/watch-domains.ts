import { QueryTypes } from 'sequelize'
import { faultInWords } from '../environment/log'
import type { Database } from '../server/database/open'
import type { NamesContext } from '../server/names/context'
import { makePace } from '../server/names/pace'
import { lookAtDomain } from '../server/usecases/domains/look-at-domain'
import { LEASE_SECONDS, underLease } from './lease'

/** At most so many questions leave in a second, whatever is due. */
const QUESTIONS_A_SECOND = 48
const AT_ONCE = 24
/** One run of the watch ends after this long. */
const RUN_MS = 40_000

/**
 * Makes the watch of one process: looks at the domains that are due, some at a time, all at one pace. A domain being
 * looked at is leased, so that no two processes look at it at once.
 */
export function makeWatch(
  names: NamesContext,
  log: (line: string) => void,
  stopping: () => boolean = () => false,
): (db: Database) => Promise<void> {
  const pace = makePace(QUESTIONS_A_SECOND)
  // Domains whose look failed, most likely because the database went away; they are still leased.
  const failed = new Set<number>()
  return async (db) => {
    const began = Date.now()
    if (failed.size > 0) await db.DomainWatch.update({ leasedUntil: null }, { where: { domainId: [...failed] } })
    failed.clear()
    await db.sequelize.query(
      'INSERT INTO domain_watch (domain_id, due_at) SELECT d.id, UTC_TIMESTAMP(3) FROM domain d LEFT JOIN ' +
        'domain_watch w ON w.domain_id = d.id WHERE w.domain_id IS NULL',
    )
    const work = async () => {
      while (Date.now() - began < RUN_MS && !stopping()) {
        const id = await claim(db)
        if (id === undefined) return
        await look(db, id)
      }
    }
    const [due] = await db.sequelize.query<{ domains: number }>(
      'SELECT COUNT(*) AS domains FROM domain_watch WHERE due_at <= UTC_TIMESTAMP(3)',
      { type: QueryTypes.SELECT },
    )
    await Promise.all(Array.from({ length: Math.min(AT_ONCE, Number(due!.domains)) }, work))
  }

  async function look(db: Database, id: number): Promise<void> {
    try {
      await underLease(
        () =>
          db.sequelize.query(
            'UPDATE domain_watch SET leased_until = DATE_ADD(UTC_TIMESTAMP(3), INTERVAL ? SECOND) WHERE ' +
              'domain_id = ? AND leased_until IS NOT NULL',
            { replacements: [LEASE_SECONDS, id] },
          ),
        () => lookAtDomain(db, names, id, pace),
      )
    } catch (error) {
      // One domain that cannot be looked at must not stop the rest; it is tried again.
      failed.add(id)
      log(`domain ${id} could not be looked at: ${faultInWords(error)}`)
    }
  }
}

/** Claims the domain that is due longest. */
function claim(db: Database): Promise<number | undefined> {
  return db.sequelize.transaction(async (transaction) => {
    const [due] = await db.sequelize.query<{ domain_id: number }>(
      'SELECT domain_id FROM domain_watch WHERE due_at <= UTC_TIMESTAMP(3) AND (leased_until IS NULL OR ' +
        'leased_until < UTC_TIMESTAMP(3)) ORDER BY due_at LIMIT 1 FOR UPDATE SKIP LOCKED',
      { type: QueryTypes.SELECT, transaction },
    )
    if (!due) return undefined
    await db.sequelize.query(
      'UPDATE domain_watch SET leased_until = DATE_ADD(UTC_TIMESTAMP(3), INTERVAL ? SECOND) WHERE domain_id = ?',
      { replacements: [LEASE_SECONDS, due.domain_id], transaction },
    )
    return Number(due.domain_id)
  })
}
