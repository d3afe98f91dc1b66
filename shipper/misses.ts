import type { Connection } from 'mariadb'
import type { Cut } from '../core/misses'
import type { VisitEvent } from '../core/visits'

const ROWS_A_STATEMENT = 500

type MissKind = 'miss' | 'robot' | 'followed' | 'mended'

/** What an event tells of misses: one itself, one that found a link after all, or one that was mended. */
function kindOf(event: VisitEvent): MissKind | undefined {
  if (event.after !== '') return 'followed'
  if (event.mended !== '' && event.kind === 'visit') return 'mended'
  const missed =
    event.path !== '' &&
    (event.outcome === 'not-found' ||
      event.outcome === 'scheduled' ||
      ((event.outcome === 'ended' || event.outcome === 'retired') && event.status === 410))
  if (!missed) return undefined
  return event.kind === 'page' ? 'miss' : event.kind === 'robot' ? 'robot' : undefined
}

/** Puts a batch's misses aside for whoever counts them, in the batch's own transaction. */
export async function storeMisses(connection: Connection, events: readonly VisitEvent[]): Promise<void> {
  const rows = events.flatMap((event) => {
    const kind = kindOf(event)
    if (!kind) return []
    const [, domain, path] = kind === 'followed' ? (/^([0-9]+)\/(.*)$/s.exec(event.after) ?? []) : []
    return [
      [
        kind,
        new Date(event.at),
        domain === undefined ? event.domainId : Number(domain),
        (path ?? event.path).slice(0, 600),
        event.linkId || null,
        event.visitor ? Buffer.from(event.visitor, 'hex') : null,
        event.country || null,
        event.page.slice(0, 400) || null,
      ],
    ]
  })
  for (let from = 0; from < rows.length; from += ROWS_A_STATEMENT) {
    const part = rows.slice(from, from + ROWS_A_STATEMENT)
    await connection.query(
      `INSERT INTO miss_event (kind, at, domain_id, path, link_id, visitor, country, referrer)
       VALUES ${part.map(() => '(?,?,?,?,?,?,?,?)').join(',')}`,
      part.flat(),
    )
  }
}

/** Adds what was not written one by one to its domain's hour. */
export async function storeCuts(connection: Connection, cuts: readonly Cut[]): Promise<void> {
  const joined = new Map<string, Cut>()
  for (const cut of cuts) {
    const key = `${cut.domainId} ${cut.hour}`
    const there = joined.get(key)
    if (there) there.requests += cut.requests
    else joined.set(key, { ...cut })
  }
  // In one order, so that two shippers never wait for each other in a circle.
  for (const { domainId, hour, requests } of [...joined.values()].sort(
    (a, b) => a.domainId - b.domainId || a.hour - b.hour,
  ))
    await connection.query(
      `INSERT INTO miss_cut (domain_id, hour, requests) VALUES (?, ?, ?)
       ON DUPLICATE KEY UPDATE requests = requests + VALUES(requests)`,
      [domainId, new Date(hour), requests],
    )
}
