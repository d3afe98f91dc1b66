import type { Query } from '../rows'

/** The unique address of a link in the redirect table. */
export interface Address {
  domainId: number
  canonical: string
}

/** A link that an entry of the ledger is about. */
export interface LinkChange {
  id: number
  revision: number
  /** When gateways start to answer by it, in milliseconds; immediately where it is `undefined`. */
  liveAt: number | undefined
  /** The address it had before, where the entry moved, ended or deleted it. */
  addresses: Address[]
  /** Whether the entry changed many links in one step. */
  together: boolean
}

/** What changed after a revision. */
export interface LedgerChanges {
  /** The newest revision read; the one asked from where nothing changed. */
  revision: number
  links: LinkChange[]
  domains: number[]
  rules: number[]
  organisation: boolean
  /** False where the limit was reached and more entries follow. */
  complete: boolean
}

/** The organisation's newest revision; it is written under the lock that every change takes. */
export async function readRevision(query: Query): Promise<number> {
  const [row] = await query('SELECT revision FROM organisation WHERE id = 1', [])
  return Number(row?.revision ?? 0)
}

/**
 * Reads the entries of the ledger past `after`, oldest first: at most `limit` where one is given. Without `addresses`,
 * the states before are not read, for those who need only ids.
 */
export async function readChanges(
  query: Query,
  after: number,
  { limit = Infinity, addresses = true }: { limit?: number; addresses?: boolean } = {},
): Promise<LedgerChanges> {
  const entries = await query(
    `SELECT id, revision, live_at, subject_kind, subject_id,
       ${addresses ? "IF(subject_kind = 'link', before_state, NULL)" : 'NULL'} AS before_state
     FROM ledger_entry WHERE revision > ? ORDER BY revision${limit === Infinity ? '' : ` LIMIT ${limit}`}`,
    [after],
  )
  const together = await readTogether(
    query,
    entries.filter(({ subject_kind }) => subject_kind === 'links').map(({ id }) => Number(id)),
    addresses,
  )
  const idsOf = (kind: string) => [
    ...new Set(entries.filter(({ subject_kind }) => subject_kind === kind).map(({ subject_id }) => Number(subject_id))),
  ]
  const links = entries.flatMap((entry): LinkChange[] => {
    const about = {
      revision: Number(entry.revision),
      liveAt: entry.live_at == null ? undefined : new Date(entry.live_at as Date | string).getTime(),
    }
    if (entry.subject_kind === 'link')
      return [{ ...about, id: Number(entry.subject_id), addresses: addressIn(entry.before_state), together: false }]
    return (together.get(Number(entry.id)) ?? []).map((link) => ({ ...about, ...link, together: true }))
  })
  return {
    revision: Number(entries.at(-1)?.revision ?? after),
    links,
    domains: idsOf('domain'),
    rules: idsOf('rule'),
    organisation: entries.some(({ subject_kind }) => subject_kind === 'organisation'),
    complete: entries.length < limit,
  }
}

/** The links of entries that changed several. */
async function readTogether(
  query: Query,
  entries: readonly number[],
  addresses: boolean,
): Promise<Map<number, Pick<LinkChange, 'id' | 'addresses'>[]>> {
  const links = new Map<number, Pick<LinkChange, 'id' | 'addresses'>[]>(entries.map((id) => [id, []]))
  if (entries.length === 0) return links
  // Only a state that names a domain holds an address; the rest would be read for nothing.
  const rows = await query(
    `SELECT entry_id, link_id,
       ${addresses ? `IF(before_state LIKE '%"domainId"%', before_state, NULL)` : 'NULL'} AS before_state
     FROM ledger_entry_link WHERE entry_id IN (${entries.map(() => '?').join(',')})`,
    entries,
  )
  for (const row of rows)
    links.get(Number(row.entry_id))!.push({ id: Number(row.link_id), addresses: addressIn(row.before_state) })
  return links
}

/** The address in a state of a link; drivers return JSON columns as text or parsed. */
function addressIn(state: unknown): Address[] {
  const { domainId, canonical } = ((typeof state === 'string' ? JSON.parse(state) : state) ?? {}) as Partial<Address>
  return domainId !== undefined && typeof canonical === 'string' ? [{ domainId, canonical }] : []
}
