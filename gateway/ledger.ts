import type { Connection } from 'mariadb'

type Raw = Record<string, unknown>

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
    'SELECT revision, subject_kind, subject_id, before_state FROM ledger_entry WHERE revision > ? ORDER ' +
      'BY revision LIMIT 2000',
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
