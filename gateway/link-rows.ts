import type { Connection } from 'mariadb'
import type { DomainRow, LinkRow, RuleRow } from '../core/table'

// A forwarding slug answers as its link does: all but its own address comes from there.
const ANSWER_COLUMNS = [
  'destination',
  'status',
  'query',
  'query_conflict',
  'standing',
  'starts_at',
  'ends_at',
  'resumes_at',
  'ended_destination',
  'robots',
  'referrer_policy',
]
const LINK_SELECT = `SELECT l.id, l.domain_id, l.slug, l.canonical, l.forwards_to, ${ANSWER_COLUMNS.map((column) => `IF(l.forwards_to IS NULL, l.${column}, t.${column}) AS ${column}`).join(', ')}
  FROM link l LEFT JOIN link t ON t.id = l.forwards_to`

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
    forwardsTo: raw.forwards_to === null ? null : Number(raw.forwards_to),
  }
}

/** Every domain. A domain that drifted still answers: its visitors are the last to be told. */
export async function readDomains(connection: Connection): Promise<DomainRow[]> {
  const rows: Raw[] = await connection.query(
    `SELECT id, host, standing, capitals_matter, trailing_slash_matters, permanence_seconds,
       root_destination, not_found_destination, ended_destination, mend_punctuation, mend_capitals, mend_look_alikes FROM domain`,
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
    forgiveness: {
      punctuation: Boolean(raw.mend_punctuation),
      capitals: Boolean(raw.mend_capitals),
      lookAlikes: Boolean(raw.mend_look_alikes),
    },
  }))
}

/** All links in steps of 10,000 by id, so that no answer of the database grows without bound. */
export async function* readLinks(connection: Connection): AsyncGenerator<LinkRow[]> {
  let after = 0
  for (;;) {
    const rows: Raw[] = await connection.query(`${LINK_SELECT} WHERE l.id > ? ORDER BY l.id LIMIT 10000`, [after])
    if (rows.length === 0) return
    after = Number(rows.at(-1)!.id)
    yield rows.filter(hasAddress).map(linkRow)
  }
}

// One that was merged into another, or ended in its favour, has no address of its own.
const hasAddress = (raw: Raw) => raw.canonical !== null

/** The links of these ids that exist now, and the slugs that forward to them. */
export async function readLinksById(connection: Connection, ids: readonly number[]): Promise<LinkRow[]> {
  if (ids.length === 0) return []
  const marks = ids.map(() => '?').join(',')
  const rows: Raw[] = await connection.query(
    `${LINK_SELECT} WHERE l.id IN (${marks}) UNION ${LINK_SELECT} WHERE l.forwards_to IN (${marks})`,
    [...ids, ...ids],
  )
  return rows.filter(hasAddress).map(linkRow)
}

/** Every rule that is switched on, in the order rules are asked. */
export async function readRules(connection: Connection): Promise<RuleRow[]> {
  const rows: Raw[] = await connection.query(
    `SELECT id, domain_id, position, syntax, pattern, destination, status, query, query_conflict, query_mode, query_text, except_slugs FROM rule WHERE active ORDER BY domain_id, position, id`,
  )
  return rows.map((raw) => ({
    id: Number(raw.id),
    domainId: Number(raw.domain_id),
    position: Number(raw.position),
    syntax: raw.syntax as RuleRow['syntax'],
    pattern: raw.pattern as string,
    destination: raw.destination as string,
    status: Number(raw.status) as RuleRow['status'],
    query: raw.query as RuleRow['query'],
    queryConflict: raw.query_conflict as RuleRow['queryConflict'],
    queryMode: raw.query_mode as RuleRow['queryMode'],
    queryText: raw.query_text as string,
    except: (typeof raw.except_slugs === 'string' ? JSON.parse(raw.except_slugs) : raw.except_slugs) as string[],
  }))
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
    const before = (typeof raw.before_state === 'string' ? JSON.parse(raw.before_state) : raw.before_state) as {
      domainId?: number
      canonical?: string | null
    } | null
    return {
      revision: Number(raw.revision),
      kind: raw.subject_kind as string,
      id: Number(raw.subject_id),
      canonicals:
        before?.domainId !== undefined && typeof before.canonical === 'string'
          ? [{ domainId: before.domainId, canonical: before.canonical }]
          : [],
    }
  })
}
