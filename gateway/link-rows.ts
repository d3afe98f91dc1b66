import type { Connection } from 'mariadb'
import type { DomainRow, LinkRow } from '../core/table'

const LINK_COLUMNS = `id, domain_id, slug, canonical, destination, status, query, query_conflict, standing,
  starts_at, ends_at, resumes_at, ended_destination, robots, referrer_policy`

type Raw = Record<string, unknown>
const moment = (value: unknown) => (value === null ? null : (value as Date).getTime())

function linkRow(raw: Raw): LinkRow {
  return {
    id: Number(raw.id),
    domainId: Number(raw.domain_id),
    slug: raw.slug as string,
    canonical: raw.canonical as string,
    destination: raw.destination as string,
    status: Number(raw.status) as LinkRow['status'],
    query: raw.query as LinkRow['query'],
    queryConflict: raw.query_conflict as LinkRow['queryConflict'],
    standing: raw.standing as LinkRow['standing'],
    startsAt: moment(raw.starts_at),
    endsAt: moment(raw.ends_at),
    resumesAt: moment(raw.resumes_at),
    endedDestination: raw.ended_destination as string | null,
    robots: raw.robots as string | null,
    referrerPolicy: raw.referrer_policy as string | null,
  }
}

/** Every domain. A domain that drifted still answers: its visitors are the last to be told. */
export async function readDomains(connection: Connection): Promise<DomainRow[]> {
  const rows: Raw[] = await connection.query(
    `SELECT id, host, standing, capitals_matter, trailing_slash_matters, permanence_seconds,
       root_destination, not_found_destination, ended_destination FROM domain`,
  )
  return rows.map((raw) => ({
    id: Number(raw.id),
    host: raw.host as string,
    open: raw.standing === 'open' || raw.standing === 'drifted',
    capitalsMatter: Boolean(raw.capitals_matter),
    trailingSlashMatters: Boolean(raw.trailing_slash_matters),
    permanenceSeconds: Number(raw.permanence_seconds),
    rootDestination: raw.root_destination as string | null,
    notFoundDestination: raw.not_found_destination as string | null,
    endedDestination: raw.ended_destination as string | null,
  }))
}

/** All links in steps of 10,000 by id, so that no answer of the database grows without bound. */
export async function* readLinks(connection: Connection): AsyncGenerator<LinkRow[]> {
  let after = 0
  for (;;) {
    const rows: Raw[] = await connection.query(`SELECT ${LINK_COLUMNS} FROM link WHERE id > ? ORDER BY id LIMIT 10000`, [after])
    if (rows.length === 0) return
    after = Number(rows.at(-1)!.id)
    yield rows.map(linkRow)
  }
}

/** The links of these ids that exist now. */
export async function readLinksById(connection: Connection, ids: readonly number[]): Promise<LinkRow[]> {
  if (ids.length === 0) return []
  const rows: Raw[] = await connection.query(`SELECT ${LINK_COLUMNS} FROM link WHERE id IN (${ids.map(() => '?').join(',')})`, [...ids])
  return rows.map(linkRow)
}

/** The organisation's revision: the ledger's newest number, taken under the lock every change takes. */
export async function readRevision(connection: Connection): Promise<number> {
  const rows: Raw[] = await connection.query('SELECT revision FROM organisation WHERE id = 1')
  return Number(rows[0]?.revision ?? 0)
}

/** What changed after `revision`, oldest first. */
export async function readChanges(
  connection: Connection,
  revision: number,
): Promise<{ revision: number; kind: string; id: number; canonicals: { domainId: number; canonical: string }[] }[]> {
  const rows: Raw[] = await connection.query(
    `SELECT revision, subject_kind, subject_id, before_state FROM ledger_entry WHERE revision > ? ORDER BY revision LIMIT 2000`,
    [revision],
  )
  return rows.map((raw) => {
    const before = (typeof raw.before_state === 'string' ? JSON.parse(raw.before_state) : raw.before_state) as
      | { domainId?: number; canonical?: string }
      | null
    return {
      revision: Number(raw.revision),
      kind: raw.subject_kind as string,
      id: Number(raw.subject_id),
      canonicals:
        before?.domainId !== undefined && before.canonical !== undefined
          ? [{ domainId: before.domainId, canonical: before.canonical }]
          : [],
    }
  })
}
