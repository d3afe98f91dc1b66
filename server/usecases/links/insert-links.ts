import { QueryTypes, UniqueConstraintError, type Transaction } from 'sequelize'
import { showHost } from '../../../core/address'
import { columnOf, LINK_FIELDS, modelValues, namesFor } from '../../../core/rows'
import { columnValue } from '../../database/column-value'
import type { Database } from '../../database/open'
import { readRanks } from '../targets/read-ranks'
import { Problem } from '../problem'
import { destinationHash, searchText, type TaggedLinkState } from './link-state'

/** A link to be made: all that the ledger keeps of one. With `id` it is made again under its number. */
export interface LinkToMake {
  id?: number
  state: TaggedLinkState & { canonical: string }
  /** The hash of its destination, where it is known. */
  hash?: string | null
}

const FIELDS = namesFor(LINK_FIELDS, 'ledger')
/** Columns beside the fields of a state. */
const OWN_COLUMNS = ['destination_hash', 'target_rank', 'search_text', 'created_at', 'updated_at']

/**
 * Inserts links without their tags by one statement; gives their ids in the same order. All or none have an id. Throws
 * 409 where an address is taken, and then none was inserted.
 */
export async function insertLinks(
  db: Database,
  transaction: Transaction,
  links: readonly LinkToMake[],
  hosts: ReadonlyMap<number, string>,
): Promise<number[]> {
  const hashes = links.map(({ state, hash }) => hash ?? destinationHash(state.destination))
  const ranks = await readRanks(db, transaction, hashes)
  const now = columnValue(new Date())
  const isNumbered = links[0]!.id !== undefined
  const rows = links.map(({ id, state }, index) => {
    const values = modelValues(LINK_FIELDS, state as unknown as Record<string, unknown>)
    const hash = hashes[index]!
    const own = [hash, ranks.get(hash) ?? 0, searchText(hosts.get(state.domainId) ?? '', state), now, now]
    return [
      ...(isNumbered ? [id] : []),
      ...FIELDS.map((field) => columnValue(values[field] ?? LINK_FIELDS[field].fallback ?? null)),
      ...own,
    ]
  })
  const columns = [
    ...(isNumbered ? ['id'] : []),
    ...FIELDS.map((field) => `\`${columnOf(LINK_FIELDS, field)}\``),
    ...OWN_COLUMNS,
  ]
  const inserted = await db.sequelize
    .query<{ id: number; domain_id: number; canonical: string }>(
      `INSERT INTO link (${columns.join(', ')}) VALUES ? RETURNING id, domain_id, canonical`,
      { replacements: [rows], type: QueryTypes.SELECT, transaction },
    )
    .catch(async (error: unknown) => {
      throw error instanceof UniqueConstraintError ? await takenProblem(db, transaction, links, hosts, error) : error
    })
  const idAt = new Map(inserted.map((row) => [`${row.domain_id}/${row.canonical}`, Number(row.id)]))
  return links.map(({ state }) => idAt.get(`${state.domainId}/${state.canonical}`)!)
}

/** Names the first address that is taken. */
async function takenProblem(
  db: Database,
  transaction: Transaction,
  links: readonly LinkToMake[],
  hosts: ReadonlyMap<number, string>,
  error: Error,
): Promise<Error> {
  const domains = new Set(links.map(({ state }) => state.domainId))
  for (const domainId of domains) {
    const canonical = links.flatMap(({ state }) => (state.domainId === domainId ? [state.canonical] : []))
    const holder = await db.Link.findOne({ where: { domainId, canonical }, transaction })
    if (!holder) continue
    const address = `${showHost(hosts.get(domainId) ?? '')}/${holder.slug}`
    return new Problem(
      409,
      'Taken meanwhile',
      `${address} was created by somebody meanwhile; nothing was changed. Load this page again.`,
    )
  }
  return error
}
