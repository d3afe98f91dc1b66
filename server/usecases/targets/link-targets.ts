import { QueryTypes } from 'sequelize'
import type { Database } from '../../database/open'
import { intervalMs, spread } from '../../../core/targets'

/** Links whose destination is asked: those of their own that may be visited now or soon, on the web. */
export const CHECKED_LINKS = `l.forwards_to IS NULL AND l.standing IN ('live', 'paused')
  AND (l.ends_at IS NULL OR l.ends_at > UTC_TIMESTAMP(3)) AND l.destination LIKE 'http%'`

const PAGE = 2000
/** What was never asked is asked within so long, the most visited first. */
const FIRST_MS = 3_600_000

/**
 * Makes sure that each destination of links changed after a moment, or of all links, has its row; gives how many are
 * new. First checks are spread over an hour, sooner where many visit.
 */
export async function ensureTargets(db: Database, since: Date | null): Promise<number> {
  let made = 0
  for (let after = 0; ;) {
    const rows = await db.sequelize.query<{ id: number; hash: string; destination: string; visits: number }>(
      `SELECT l.id, l.destination_hash AS hash, l.destination, l.visits_28 AS visits FROM link l
       LEFT JOIN target t ON t.hash = l.destination_hash
       WHERE l.id > :after AND t.id IS NULL AND ${CHECKED_LINKS} ${since ? 'AND l.updated_at >= :since' : ''}
       ORDER BY l.id LIMIT ${PAGE}`,
      { replacements: { after, since }, type: QueryTypes.SELECT },
    )
    if (rows.length === 0) return made
    after = Number(rows.at(-1)!.id)
    const now = Date.now()
    const found = new Map<string, (typeof rows)[number]>()
    for (const row of rows) if (!found.has(row.hash) && hostOf(row.destination)) found.set(row.hash, row)
    await db.Target.bulkCreate(
      [...found.values()].map(({ hash, destination, visits }) => ({
        hash,
        destination,
        host: hostOf(destination)!,
        dueAt: new Date(now + firstDelay(since !== null, Number(visits))),
        madeAt: new Date(now),
      })),
      { ignoreDuplicates: true },
    )
    made += found.size
  }
}

/** A link just made is asked at once; a whole register over time. */
const firstDelay = (justMade: boolean, visits: number): number =>
  justMade ? 0 : Math.round((Math.random() * FIRST_MS) / (1 + visits / 28))

function hostOf(destination: string): string | undefined {
  try {
    return new URL(destination).hostname.slice(0, 255)
  } catch {
    return undefined
  }
}

/** Who is interested in a target: its links, and how many visit them. */
export interface Interest {
  links: { id: number; domainId: number; slug: string; host: string; visits28: number; updatedAt: Date }[]
  visitsADay: number
  newest: number
}

const YOUNG_DAYS = 28

/** The links that lead to a target, those with most visits first. */
export async function interestIn(db: Database, hash: string): Promise<Interest> {
  const rows = await db.sequelize.query<{
    id: number
    domain_id: number
    slug: string
    host: string
    visits_28: number
    updated_at: Date
    created_at: Date
    week: string | null
  }>(
    `SELECT l.id, l.domain_id, l.slug, d.host, l.visits_28, l.updated_at, l.created_at,
      (SELECT SUM(v.visits) FROM visit_day v
        WHERE v.link_id = l.id AND v.day > DATE_SUB(UTC_DATE(), INTERVAL 7 DAY)) AS week
     FROM link l JOIN domain d ON d.id = l.domain_id
     WHERE l.destination_hash = :hash AND ${CHECKED_LINKS} ORDER BY l.visits_28 DESC, l.id`,
    { replacements: { hash }, type: QueryTypes.SELECT },
  )
  const now = Date.now()
  // Over the last 28 days; over seven for links younger than that (semantics §5).
  const aDay = (row: (typeof rows)[number]) =>
    now - new Date(row.created_at).getTime() < YOUNG_DAYS * 86_400_000
      ? Number(row.week ?? 0) / 7
      : Number(row.visits_28) / YOUNG_DAYS
  return {
    links: rows.map((row) => ({
      id: Number(row.id),
      domainId: Number(row.domain_id),
      slug: row.slug,
      host: row.host,
      visits28: Number(row.visits_28),
      updatedAt: new Date(row.updated_at),
    })),
    visitsADay: Math.round(rows.reduce((sum, row) => sum + aDay(row), 0) * 100) / 100,
    newest: Math.max(0, ...rows.map((row) => new Date(row.updated_at).getTime())),
  }
}

/** When a target is due again. */
export function nextDue(
  interest: Interest,
  standing: Parameters<typeof intervalMs>[0]['standing'],
  waitMs: number | undefined,
): Date {
  const now = Date.now()
  const interval = intervalMs({ standing, visitsADay: interest.visitsADay, since: interest.newest, now })
  return new Date(now + Math.max(spread(interval, Math.random()), waitMs ?? 0))
}

/** Forgets targets that no link leads to any more, and what old checks saw that saw nothing new. */
export async function forgetTargets(db: Database, days: { evidence: number; checks: number }): Promise<void> {
  await db.sequelize.query(
    `DELETE t FROM target t LEFT JOIN link l ON l.destination_hash = t.hash
     WHERE l.id IS NULL AND t.made_at < DATE_SUB(UTC_TIMESTAMP(3), INTERVAL 1 DAY)
       AND (t.wanted_until IS NULL OR t.wanted_until < UTC_TIMESTAMP(3))`,
  )
  await db.sequelize.query('DELETE FROM target_check WHERE at < DATE_SUB(UTC_TIMESTAMP(3), INTERVAL ? DAY)', {
    replacements: [days.checks],
  })
  // The first check of each verdict in a row keeps what it saw.
  await db.sequelize.query(
    `UPDATE target_check c JOIN target_check p ON p.id =
        (SELECT MAX(q.id) FROM target_check q WHERE q.target_id = c.target_id AND q.id < c.id)
     SET c.evidence = NULL
     WHERE c.evidence IS NOT NULL AND p.verdict = c.verdict AND c.at < DATE_SUB(UTC_TIMESTAMP(3), INTERVAL ? DAY)`,
    { replacements: [days.evidence] },
  )
  await db.sequelize.query('DELETE FROM target_turn WHERE free_at < DATE_SUB(UTC_TIMESTAMP(3), INTERVAL 1 DAY)')
  await db.sequelize.query('DELETE FROM target_host WHERE next_at < DATE_SUB(UTC_TIMESTAMP(3), INTERVAL 1 DAY)')
  await db.sequelize.query(
    `DELETE FROM check_run WHERE state <> 'running' AND ended_at < DATE_SUB(UTC_TIMESTAMP(3), INTERVAL 30 DAY)`,
  )
}
