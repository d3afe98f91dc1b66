import type { Connection } from 'mariadb'
import type { Privacy } from './observe'

type Raw = Record<string, unknown>

/** The organisation's revision: the ledger's newest number, taken under the lock every change takes. */
export async function readRevision(connection: Connection): Promise<number> {
  const rows: Raw[] = await connection.query('SELECT revision FROM organisation WHERE id = 1')
  return Number(rows[0]?.revision ?? 0)
}

/** What the organisation keeps of visitors. */
export async function readPrivacy(connection: Connection): Promise<Privacy> {
  const rows: Raw[] = await connection.query('SELECT honour_gpc, keep_network FROM organisation WHERE id = 1')
  return {
    honourGpc: Number(rows[0]?.honour_gpc ?? 1) === 1,
    keepNetwork: Number(rows[0]?.keep_network ?? 0) === 1,
  }
}

interface Changed {
  revision: number
  /** From when on it counts, in milliseconds; at once where there is none. */
  liveAt: number | undefined
  kind: string
  id: number
  canonicals: { domainId: number; canonical: string }[]
}

/** What changed after `revision`, oldest first. */
export async function readChanges(connection: Connection, revision: number): Promise<Changed[]> {
  const rows: Raw[] = await connection.query(
    'SELECT id, revision, live_at, subject_kind, subject_id, before_state FROM ledger_entry WHERE revision > ? ORDER ' +
      'BY revision LIMIT 2000',
    [revision],
  )
  const many = rows.filter((raw) => raw.subject_kind === 'links').map((raw) => Number(raw.id))
  const links = await linksOf(connection, many)
  return rows.flatMap((raw) => {
    const { id, ...entry } = toChange(raw)
    return entry.kind === 'links'
      ? (links.get(Number(raw.id)) ?? []).map((link) => ({ ...entry, ...link, kind: 'link' }))
      : [{ ...entry, id }]
  })
}

/** The links of entries that tell of several. */
async function linksOf(
  connection: Connection,
  entries: readonly number[],
): Promise<Map<number, Pick<Changed, 'id' | 'canonicals'>[]>> {
  const links = new Map<number, Pick<Changed, 'id' | 'canonicals'>[]>(entries.map((id) => [id, []]))
  if (entries.length === 0) return links
  const rows: Raw[] = await connection.query(
    `SELECT entry_id, link_id, IF(before_state LIKE '%"domainId"%', before_state, NULL) AS before_state
     FROM ledger_entry_link WHERE entry_id IN (${entries.map(() => '?').join(',')})`,
    [...entries],
  )
  for (const row of rows)
    links.get(Number(row.entry_id))!.push({ id: Number(row.link_id), canonicals: addressIn(row.before_state) })
  return links
}

/** The address a state tells of; of what is gone or moved, the one it stood at. */
function addressIn(kept: unknown): Changed['canonicals'] {
  const state = (typeof kept === 'string' ? JSON.parse(kept) : kept) as {
    domainId?: number
    canonical?: string | null
  } | null
  return state?.domainId !== undefined && typeof state.canonical === 'string'
    ? [{ domainId: state.domainId, canonical: state.canonical }]
    : []
}

const toChange = (raw: Raw): Changed => ({
  revision: Number(raw.revision),
  liveAt: raw.live_at === null ? undefined : (raw.live_at as Date).getTime(),
  kind: raw.subject_kind as string,
  id: Number(raw.subject_id),
  canonicals: addressIn(raw.before_state),
})
