import { QueryTypes, type Transaction } from 'sequelize'
import { fromJson } from '../../database/json'
import type { Database } from '../../database/open'
import type { Keep } from '../changes/move-links'
import { addManyTags } from '../links/add-many-tags'
import { insertLinks, type LinkToMake } from '../links/insert-links'
import { linkState, readTags, type TaggedLinkState } from '../links/link-state'
import { Problem } from '../problem'
import { observableLinks } from '../links/was-observable'

const PAGE = 1000

/** Creates links and their tags within a change, each told to `keep`; throws 409 as insertLinks does. */
export async function makeLinks(
  db: Database,
  transaction: Transaction,
  links: readonly LinkToMake[],
  hosts: ReadonlyMap<number, string>,
  keep: Keep,
): Promise<void> {
  for (let from = 0; from < links.length; from += PAGE) {
    const page = links.slice(from, from + PAGE)
    const ids = await insertLinks(db, transaction, page, hosts)
    await addManyTags(
      db,
      transaction,
      page.map(({ state }, index) => ({ linkId: ids[index]!, names: state.tags })),
    )
    for (const [index, { state }] of page.entries()) keep(ids[index]!, null, { ...state, tags: [...state.tags].sort() })
  }
}

/** Links of their own an entry made or took away, page by page. */
async function* ownLinksOf(
  db: Database,
  transaction: Transaction,
  entryId: number,
  which: 'made' | 'taken',
): AsyncGenerator<{ id: number; state: TaggedLinkState & { canonical: string } }[]> {
  const [empty, full] = which === 'made' ? ['before_state', 'after_state'] : ['after_state', 'before_state']
  for (let after = 0; ;) {
    const rows = await db.sequelize.query<{ link_id: number; state: unknown }>(
      `SELECT link_id, ${full} AS state FROM ledger_entry_link
       WHERE entry_id = ? AND link_id > ? AND ${empty} = 'null' AND JSON_VALUE(${full}, '$.forwardsTo') IS NULL
       ORDER BY link_id LIMIT ${PAGE}`,
      { replacements: [entryId, after], type: QueryTypes.SELECT, transaction },
    )
    if (rows.length === 0) return
    after = Number(rows.at(-1)!.link_id)
    yield rows.map((row) => ({
      id: Number(row.link_id),
      state: fromJson<TaggedLinkState & { canonical: string }>(row.state),
    }))
  }
}

const same = (one: unknown, other: unknown) => JSON.stringify(one) === JSON.stringify(other)

/**
 * Undoes the links an entry created: one that nobody can have requested is deleted, any other is retired, so that its
 * slug stays reserved. One that was changed since refuses all of it with 409, unless `overwrite` says to go ahead.
 */
export async function takeMadeLinks(
  db: Database,
  transaction: Transaction,
  entryId: number,
  keep: Keep,
  overwrite: boolean,
): Promise<void> {
  const stale: string[] = []
  for await (const page of ownLinksOf(db, transaction, entryId, 'made')) {
    const ids = page.map(({ id }) => id)
    const links = await db.Link.findAll({
      where: { id: ids },
      order: [['id', 'ASC']],
      transaction,
      lock: transaction.LOCK.UPDATE,
    })
    const tags = await readTags(db, ids, transaction)
    const made = new Map(page.map(({ id, state }) => [id, state]))
    const observable = await observableLinks(db, transaction, links, entryId, new Date())
    const followed = new Set(
      (await db.Link.findAll({ attributes: ['forwardsTo'], where: { forwardsTo: ids }, transaction })).map(
        ({ forwardsTo }) => forwardsTo!,
      ),
    )
    const gone: number[] = []
    const retired: number[] = []
    for (const link of links) {
      const now = linkState(link, tags.get(link.id)!)
      if (!overwrite && !same(now, orderedLike(now, made.get(link.id)!))) stale.push(String(link.slug))
      // An address that somebody may have used, or that others lead to, is never given to anybody else.
      if (observable.has(link.id) || followed.has(link.id)) {
        if (now.standing === 'retired') continue
        retired.push(link.id)
        keep(link.id, { standing: now.standing }, { standing: 'retired' })
      } else {
        gone.push(link.id)
        keep(link.id, now, null)
      }
    }
    if (stale.length > 0) continue
    if (retired.length > 0)
      await db.sequelize.query(
        "UPDATE link SET standing = 'retired', version = version + 1, updated_at = UTC_TIMESTAMP(3) WHERE id IN (?)",
        { replacements: [retired], transaction },
      )
    if (gone.length > 0) await db.Link.destroy({ where: { id: gone }, transaction })
  }
  if (stale.length > 0)
    throw new Problem(
      409,
      'Changed meanwhile',
      `${stale.length === 1 ? `“${stale[0]}” was` : `${stale.length} links were`} changed since; nothing was done.`,
      [],
      { stale: stale.slice(0, 100) },
    )
}

/** A state with its fields in the order of another, so that both can be compared as text. */
const orderedLike = (order: object, state: object) =>
  Object.fromEntries(Object.keys(order).map((field) => [field, (state as Record<string, unknown>)[field]]))

/** Makes the links again that an entry took away, under their numbers. */
export async function makeTakenLinks(
  db: Database,
  transaction: Transaction,
  entryId: number,
  hosts: ReadonlyMap<number, string>,
  keep: Keep,
): Promise<void> {
  for await (const page of ownLinksOf(db, transaction, entryId, 'taken'))
    await makeLinks(db, transaction, page, hosts, keep)
}
