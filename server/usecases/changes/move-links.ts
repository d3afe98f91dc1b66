import { QueryTypes, type Transaction } from 'sequelize'
import { showHost } from '../../../core/address'
import { fromJson } from '../../database/json'
import type { Database } from '../../database/open'
import type { LinkModel } from '../../database/models/link'
import { destinationHash, linkState, searchText, type TaggedLinkState } from '../links/link-state'
import { inherit, slugTaken } from '../links/rename-link'

/** A link that gets another address within a change to many. */
export interface Move {
  link: LinkModel
  domainId: number
  canonical: string
}

export type Keep = (linkId: number, before: object | null, after: object | null) => void

/**
 * Makes room for links at the addresses they move to: slugs there that lead to these very links are taken away,
 * anything else refuses all of it with 409. Each slug that goes is told to `keep`.
 */
export async function makeRoom(
  db: Database,
  transaction: Transaction,
  moves: readonly Move[],
  hosts: ReadonlyMap<number, string>,
  keep: Keep,
): Promise<void> {
  if (moves.length === 0) return
  const place = (domainId: number, canonical: string | null) => `${domainId}/${canonical}`
  const byPlace = new Map(moves.map((move) => [place(move.domainId, move.canonical), move]))
  const rows = await db.sequelize.query<{ id: number }>(
    'SELECT id FROM link WHERE (domain_id, canonical) IN (:pairs) ORDER BY id FOR UPDATE',
    {
      replacements: { pairs: moves.map(({ domainId, canonical }) => [domainId, canonical]) },
      type: QueryTypes.SELECT,
      transaction,
    },
  )
  if (rows.length === 0) return
  const moving = new Set(moves.map(({ link }) => link.id))
  const holders = await db.Link.findAll({ where: { id: rows.map(({ id }) => Number(id)) }, transaction })
  for (const holder of holders) {
    const move = byPlace.get(place(holder.domainId, holder.canonical))!
    if (moving.has(holder.id) || holder.forwardsTo === move.link.id) continue
    throw slugTaken({ host: showHost(hosts.get(holder.domainId)!) }, holder.slug, holder)
  }
  await dropSlugs(
    db,
    transaction,
    holders.filter(({ id }) => !moving.has(id)),
    keep,
  )
}

/** Takes slugs that forward away; their visits become those of the links they lead to. */
async function dropSlugs(
  db: Database,
  transaction: Transaction,
  slugs: readonly LinkModel[],
  keep: Keep,
): Promise<void> {
  if (slugs.length === 0) return
  const ids = slugs.map(({ id }) => id)
  await inherit(db, ids, transaction)
  await db.Link.destroy({ where: { id: ids }, transaction })
  for (const slug of slugs) keep(slug.id, linkState(slug, []), null)
}

/** What a link was called before it moved, as a slug that forwards to it. */
interface Left {
  forwardsTo: number
  domainId: number
  slug: string
  canonical: string
  state: Pick<TaggedLinkState, 'destination' | 'status' | 'owner'>
}

/** Leaves slugs that forward, each told to `keep`. */
export async function leaveSlugs(
  db: Database,
  transaction: Transaction,
  left: readonly Left[],
  hosts: ReadonlyMap<number, string>,
  keep: Keep,
): Promise<void> {
  if (left.length === 0) return
  const now = new Date()
  await db.Link.bulkCreate(
    left.map(({ forwardsTo, domainId, slug, canonical, state: { destination, status, owner } }) => ({
      domainId,
      slug,
      canonical,
      forwardsTo,
      destination,
      destinationHash: destinationHash(destination),
      status,
      owner,
      searchText: searchText(hosts.get(domainId)!, { slug, title: '', destination: '', owner: '', note: '', tags: [] }),
      createdAt: now,
      updatedAt: now,
    })),
    { transaction },
  )
  const places = new Set(left.map(({ domainId, canonical }) => `${domainId}/${canonical}`))
  const made = await db.Link.findAll({
    where: { forwardsTo: [...new Set(left.map(({ forwardsTo }) => forwardsTo))] },
    transaction,
  })
  for (const row of made) if (places.has(`${row.domainId}/${row.canonical}`)) keep(row.id, null, linkState(row, []))
}

const PAGE = 500

/** Slugs an entry made or took away, page by page. */
async function* slugsOf(
  db: Database,
  transaction: Transaction,
  entryId: number,
  which: 'made' | 'taken',
): AsyncGenerator<{ id: number; state: TaggedLinkState }[]> {
  const [empty, full] = which === 'made' ? ['before_state', 'after_state'] : ['after_state', 'before_state']
  for (let after = 0; ;) {
    const rows = await db.sequelize.query<{ link_id: number; state: unknown }>(
      `SELECT link_id, ${full} AS state FROM ledger_entry_link
       WHERE entry_id = ? AND link_id > ? AND ${empty} = 'null' AND JSON_VALUE(${full}, '$.forwardsTo') IS NOT NULL
       ORDER BY link_id LIMIT ${PAGE}`,
      { replacements: [entryId, after], type: QueryTypes.SELECT, transaction },
    )
    if (rows.length === 0) return
    after = Number(rows.at(-1)!.link_id)
    yield rows.map((row) => ({ id: Number(row.link_id), state: fromJson<TaggedLinkState>(row.state) }))
  }
}

/** Takes the slugs away that an entry made, so far as they still lead where it had them lead. */
export async function takeMadeSlugs(
  db: Database,
  transaction: Transaction,
  entryId: number,
  keep: Keep,
): Promise<void> {
  for await (const page of slugsOf(db, transaction, entryId, 'made')) {
    const was = new Map(page.map(({ id, state }) => [id, state]))
    const rows = await db.Link.findAll({
      where: { id: [...was.keys()] },
      order: [['id', 'ASC']],
      transaction,
      lock: transaction.LOCK.UPDATE,
    })
    const same = rows.filter(
      (row) => row.forwardsTo === was.get(row.id)!.forwardsTo && row.canonical === was.get(row.id)!.canonical,
    )
    await dropSlugs(db, transaction, same, keep)
  }
}

/** Makes the slugs again that an entry took away; what stands at such an address by now refuses all of it with 409. */
export async function makeTakenSlugs(
  db: Database,
  transaction: Transaction,
  entryId: number,
  hosts: ReadonlyMap<number, string>,
  keep: Keep,
): Promise<void> {
  for await (const page of slugsOf(db, transaction, entryId, 'taken')) {
    const there = new Set(
      (
        await db.Link.findAll({
          attributes: ['id'],
          where: { id: page.map(({ state }) => state.forwardsTo!), forwardsTo: null },
          transaction,
        })
      ).map(({ id }) => id),
    )
    const left = page.flatMap(({ state }) =>
      state.canonical === null || !there.has(state.forwardsTo!)
        ? []
        : [{ ...state, forwardsTo: state.forwardsTo!, canonical: state.canonical, state }],
    )
    if (left.length === 0) continue
    const [holder] = await db.sequelize.query<{ domain_id: number; slug: string }>(
      'SELECT domain_id, slug FROM link WHERE (domain_id, canonical) IN (:pairs) LIMIT 1',
      {
        replacements: { pairs: left.map(({ domainId, canonical }) => [domainId, canonical]) },
        type: QueryTypes.SELECT,
        transaction,
      },
    )
    if (holder) throw slugTaken({ host: showHost(hosts.get(Number(holder.domain_id))!) }, holder.slug, null)
    await leaveSlugs(db, transaction, left, hosts, keep)
  }
}
