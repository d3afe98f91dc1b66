import { createHash } from 'node:crypto'
import type { Connection } from 'mariadb'
import { dayReader } from '../core/time/calendar-day'
import type { VisitEvent } from '../core/visits'

const ROWS_A_STATEMENT = 1000

/**
 * Counts a batch by day of the organisation's time zone, in the batch's own transaction: visits by link and by rule,
 * and what no link took under its own address by what was asked for.
 */
export async function countDays(
  connection: Connection,
  events: readonly VisitEvent[],
  timeZone: string,
): Promise<void> {
  const dayOf = dayReader(timeZone)
  const links = new Map<string, Map<number, number>>()
  const rules = new Map<string, Map<number, number>>()
  const strays = new Map<string, Stray>()
  for (const event of events) {
    if (event.kind !== 'visit' && event.kind !== 'page') continue
    const day = dayOf(event.at)
    if (event.kind === 'visit') {
      if (event.linkId !== 0) count(links, day, event.linkId)
      if (event.ruleId !== 0) count(rules, day, event.ruleId)
    }
    if (event.path !== '' && (event.linkId === 0 || event.mended !== '')) countStray(strays, day, event)
  }
  await countInto(connection, 'visit_day', 'link_id', links)
  await countInto(connection, 'rule_day', 'rule_id', rules)
  await addStrays(connection, strays)
}

function count(counts: Map<string, Map<number, number>>, day: string, id: number): void {
  let there = counts.get(day)
  if (!there) counts.set(day, (there = new Map()))
  there.set(id, (there.get(id) ?? 0) + 1)
}

async function countInto(
  connection: Connection,
  table: 'visit_day' | 'rule_day',
  column: 'link_id' | 'rule_id',
  counts: ReadonlyMap<string, ReadonlyMap<number, number>>,
): Promise<void> {
  // In key order, so that two shippers never wait for each other in a circle.
  const rows = [...counts]
    .flatMap(([day, ids]) => [...ids].map(([id, visits]) => ({ id, day, visits })))
    .sort((a, b) => a.id - b.id || (a.day < b.day ? -1 : 1))
  for (let from = 0; from < rows.length; from += ROWS_A_STATEMENT) {
    // Numbers and days of our own making: written in, they are read faster than as parameters.
    const values = rows.slice(from, from + ROWS_A_STATEMENT).map(({ id, day, visits }) => `(${id},'${day}',${visits})`)
    await connection.query(
      `INSERT INTO ${table} (${column}, day, visits) VALUES ${values.join(',')}
       ON DUPLICATE KEY UPDATE visits = visits + VALUES(visits)`,
    )
  }
}

interface Stray {
  day: string
  event: VisitEvent
  print: Buffer
  requests: number
  lastAt: number
}

const PATH_LENGTH = 600

function countStray(strays: Map<string, Stray>, day: string, event: VisitEvent): void {
  const parts = [
    event.path.slice(0, PATH_LENGTH),
    event.language.slice(0, 8),
    event.outcome,
    event.mended,
    event.linkId,
    event.ruleId,
  ]
  const print = createHash('md5').update(parts.join('\0')).digest()
  const key = `${day} ${event.domainId} ${print.toString('latin1')}`
  const there = strays.get(key)
  if (!there) strays.set(key, { day, event, print, requests: 1, lastAt: event.at })
  else {
    there.requests++
    there.lastAt = Math.max(there.lastAt, event.at)
  }
}

async function addStrays(connection: Connection, strays: ReadonlyMap<string, Stray>): Promise<void> {
  const rows = [...strays.values()].sort(
    (a, b) =>
      (a.day < b.day ? -1 : a.day > b.day ? 1 : 0) ||
      a.event.domainId - b.event.domainId ||
      Buffer.compare(a.print, b.print),
  )
  for (let from = 0; from < rows.length; from += ROWS_A_STATEMENT) {
    const part = rows.slice(from, from + ROWS_A_STATEMENT)
    await connection.query(
      `INSERT INTO stray_day
         (day, domain_id, print, path, language, outcome, mended, link_id, rule_id, requests, last_at)
       VALUES ${part.map(() => '(?,?,?,?,?,?,?,?,?,?,?)').join(',')} ON DUPLICATE KEY UPDATE
         requests = requests + VALUES(requests), last_at = GREATEST(last_at, VALUES(last_at))`,
      part.flatMap(({ day, event, print, requests, lastAt }) => [
        day,
        event.domainId,
        print,
        event.path.slice(0, PATH_LENGTH),
        event.language.slice(0, 8),
        event.outcome,
        event.mended,
        event.linkId,
        event.ruleId,
        requests,
        new Date(lastAt),
      ]),
    )
  }
}
