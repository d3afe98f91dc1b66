import { DateTime } from 'luxon'
import { QueryTypes } from 'sequelize'
import { showHost } from '../../../core/address'
import { LINK_DATE_KINDS, type DateEvent, type DateKind } from '../../../core/schemas'
import type { Database } from '../../database/open'
import { organisationDay } from '../misses/organisation-day'

/** Days from the first to the last, both included, by the organisation's calendar: YYYY-MM-DD. */
export interface Days {
  from: string
  to: string
}

/** Links that end on one day beyond this number are told together. */
const MAX_ALIKE = 5
const MAX_ROWS = 5000

/** Everything that has a date within some days, in the order of the days. */
export async function listDates(db: Database, { from, to }: Days): Promise<DateEvent[]> {
  const { timeZone } = await organisationDay(db)
  const begin = DateTime.fromISO(from, { zone: timeZone }).startOf('day').toJSDate()
  const end = DateTime.fromISO(to, { zone: timeZone }).plus({ days: 1 }).startOf('day').toJSDate()
  const dayOf = (at: Date) => DateTime.fromJSDate(at, { zone: timeZone }).toISODate()!
  const replacements = { from, to, begin, end }
  const select = <Row extends object>(sql: string) =>
    db.sequelize.query<Row>(sql, { replacements, type: QueryTypes.SELECT })
  interface Dated {
    id: number
    host: string
    slug: string
    title: string
    at: Date
  }
  const links = (column: string, standing: string) =>
    select<Dated>(
      `SELECT l.id, d.host, l.slug, l.title, l.${column} AS at FROM link l JOIN domain d ON d.id = l.domain_id
       WHERE l.${column} >= :begin AND l.${column} < :end AND l.forwards_to IS NULL AND l.standing IN (${standing})
       ORDER BY l.${column}, l.visits_28 DESC, l.id LIMIT ${MAX_ROWS}`,
    )
  const [begins, ends, resumes, noted, changes, domains, certificates, aside] = await Promise.all([
    links('starts_at', "'live'"),
    links('ends_at', "'live', 'paused'"),
    links('resumes_at', "'paused'"),
    select<{
      id: number
      link_id: number
      host: string
      slug: string
      kind: 'look-again' | 'ends-there'
      day: string
      note: string
    }>(
      `SELECT n.id, n.link_id, d.host, l.slug, n.kind, DATE_FORMAT(n.day, '%Y-%m-%d') AS day, n.note FROM link_date n
       JOIN link l ON l.id = n.link_id JOIN domain d ON d.id = l.domain_id
       WHERE n.done_at IS NULL AND n.day >= :from AND n.day <= :to ORDER BY n.day, n.id LIMIT ${MAX_ROWS}`,
    ),
    select<{ id: number; at: Date; words: string; state: string }>(
      `SELECT id, at, words, state FROM proposal WHERE at >= :begin AND at < :end
         AND state IN ('waiting', 'applying', 'applied', 'held') ORDER BY at, id LIMIT ${MAX_ROWS}`,
    ),
    select<{ id: number; host: string; day: string; registrar: string }>(
      `SELECT id, host, DATE_FORMAT(expires_on, '%Y-%m-%d') AS day, registrar FROM domain
       WHERE expires_on >= :from AND expires_on <= :to`,
    ),
    select<{ id: number; subject: string; headline: string; at: Date }>(
      `SELECT id, subject, headline, harm_at AS at FROM docket_case
       WHERE kind = 'certificate-ending' AND state = 'open' AND harm_at >= :begin AND harm_at < :end`,
    ),
    select<{ id: number; subject: string; headline: string; at: Date }>(
      `SELECT id, subject, headline, set_aside_until AS at FROM docket_case
       WHERE state = 'set-aside' AND set_aside_until >= :begin AND set_aside_until < :end LIMIT ${MAX_ROWS}`,
    ),
  ])
  const events: DateEvent[] = [
    ...together('link-begins', begins, dayOf),
    ...together('link-ends', ends, dayOf),
    ...together('link-resumes', resumes, dayOf),
    ...noted.map((row): DateEvent => ({
      key: `day-${row.id}`,
      kind: row.kind,
      day: row.day,
      at: null,
      title: `${showHost(row.host)}/${row.slug}: ${LINK_DATE_KINDS[row.kind].toLowerCase()}`,
      note: row.note,
      to: `/links/${row.link_id}`,
    })),
    ...changes.map((row): DateEvent => ({
      key: `change-${row.id}`,
      kind: 'change',
      day: dayOf(new Date(row.at)),
      at: new Date(row.at).toISOString(),
      title: row.state === 'applied' ? `Made: ${row.words}` : row.state === 'held' ? `Held: ${row.words}` : row.words,
      note: '',
      to: `/changes/${row.id}`,
    })),
    ...domains.map((row): DateEvent => ({
      key: `renewal-${row.id}`,
      kind: 'renewal',
      day: row.day,
      at: null,
      title: `The registration of ${showHost(row.host)} ends`,
      note: row.registrar ? `at ${row.registrar}` : '',
      to: `/domains/${row.id}?tab=renewal`,
    })),
    ...[
      ...certificates.map((row) => ({ ...row, kind: 'certificate' as const })),
      ...aside.map((row) => ({ ...row, kind: 'aside' as const })),
    ].map((row): DateEvent => ({
      key: `${row.kind}-${row.id}`,
      kind: row.kind,
      day: dayOf(new Date(row.at)),
      at: new Date(row.at).toISOString(),
      title: row.kind === 'aside' ? `Comes back: ${row.headline}` : `${row.subject}: ${row.headline}`,
      note: row.kind === 'aside' ? row.subject : '',
      to: `/docket?case=${row.id}`,
    })),
  ]
  return events.sort((a, b) => (a.day === b.day ? (a.at ?? '').localeCompare(b.at ?? '') : a.day < b.day ? -1 : 1))
}

const address = ({ host, slug }: { host: string; slug: string }) => `${showHost(host)}/${slug}`
const WORDS = { 'link-begins': 'begin', 'link-ends': 'end', 'link-resumes': 'resume' } as const

/** Links with the same date: each by itself where they are few, else as one. */
function* together(
  kind: keyof typeof WORDS & DateKind,
  rows: readonly { id: number; host: string; slug: string; title: string; at: Date }[],
  dayOf: (at: Date) => string,
): Generator<DateEvent> {
  const moments = new Map<string, (typeof rows)[number][]>()
  for (const row of rows) {
    const at = new Date(row.at).toISOString()
    moments.set(at, [...(moments.get(at) ?? []), row])
  }
  for (const [at, group] of moments) {
    const shared = { kind, day: dayOf(new Date(at)), at }
    if (group.length > MAX_ALIKE) {
      const [first] = group
      yield {
        ...shared,
        key: `${kind}-${at}`,
        title: `${group.length.toLocaleString('en')} links ${WORDS[kind]}, ${address(first!)} among them`,
        note: '',
        to: `/links/${first!.id}`,
      }
    } else
      for (const row of group)
        yield {
          ...shared,
          key: `${kind}-${row.id}-${at}`,
          title: `${address(row)} ${WORDS[kind]}s`,
          note: row.title,
          to: `/links/${row.id}`,
        }
  }
}
