import { QueryTypes, Transaction } from 'sequelize'
import { showHost } from '../../../core/address'
import { columnOf, LINK_FIELDS, modelValues } from '../../../core/rows'
import type { Rewritten } from '../../../core/changes'
import { columnValue } from '../../database/column-value'
import type { Database } from '../../database/open'
import type { LinkModel } from '../../database/models/link'
import type { Actor, Record } from '../ledger/change'
import { tellChanged } from '../ledger/change'
import { writeEntry } from '../ledger/write-entry'
import { retryOnLockConflict } from '../ledger/lock-conflicts'
import { readForwarding } from '../links/listed-views'
import { destinationHash, linkState, readTags, searchText } from '../links/link-state'
import { addManyTags } from '../links/add-many-tags'
import { readRanks } from '../targets/read-ranks'
import { Problem } from '../problem'
import { leaveSlugs, makeRoom } from './move-links'

/** One link's part of a change to many: the fields that change, as they are and will be. */
export interface Part {
  linkId: number
  /** The version the link must stand at; `undefined` where only the fields must be as told. */
  version?: number
  before: Rewritten
  after: Rewritten
  /** Whether what it was called before, where it gets another address, goes on leading to it. */
  forward?: boolean
}

/** What writes into a change's own transaction: under which entry, and what keeps of a link in it what was done. */
export interface ManyContext {
  transaction: Transaction
  entryId: number
  hosts: ReadonlyMap<number, string>
  keep(linkId: number, before: object | null, after: object | null): void
  /** Writes what was told to `keep` so far, so that it need not be held until the end. */
  write(): Promise<void>
  /** Takes the number of an entry that is a part of this one; it gets a revision of its own behind it. */
  part(entryId: number): void
}

/** What rules that are made or taken within a change need of it. */
export const withinOf = (actor: Actor, { transaction, entryId, part }: ManyContext) => ({
  transaction,
  actor,
  entryId,
  part,
})

export interface ManyOptions {
  /** Gives the parts, in the order of the links' numbers, page by page. */
  parts(transaction: Transaction): AsyncIterable<readonly Part[]>
  about: Pick<Record, 'action' | 'subject' | 'reason' | 'undoesId' | 'before' | 'after'>
  /** From when on it is answered so; the gateways change over together. */
  liveAt(now: Date): Date | null
  /** Asked under the lock of all changes, shortly before it counts; throws to refuse all of it. */
  lastLook?(transaction: Transaction): Promise<void>
  /** Done before the parts are written, in the same transaction. */
  first?(context: ManyContext): Promise<void>
  /** Writes what goes along with it, in the same transaction, after the parts. */
  along?(context: ManyContext): Promise<void>
}

/**
 * Writes a change to many links, all or none, as one entry of the ledger. Rows are written and locked first; the lock
 * that all changes take is held only at the end, for a moment, so that nobody who edits other links waits. A link that
 * is not as told has everything refused.
 */
export async function writeMany(db: Database, actor: Actor, options: ManyOptions): Promise<number> {
  const { about, parts, liveAt, lastLook, first, along } = options
  const entryId = await retryOnLockConflict(() =>
    db.sequelize.transaction({ isolationLevel: Transaction.ISOLATION_LEVELS.READ_COMMITTED }, async (transaction) => {
      const entry = await writeEntry(db, transaction, actor, about, { revision: null, at: new Date() })
      const hosts = new Map((await db.Domain.findAll({ transaction })).map(({ id, host }) => [id, host]))
      const stale: string[] = []
      const kept: [number, string, string][] = []
      const within: number[] = []
      const context: ManyContext = {
        transaction,
        entryId: entry.id,
        hosts,
        keep: (id, before, after) => kept.push([id, JSON.stringify(before), JSON.stringify(after)]),
        write: () => keepParts(db, context, kept.splice(0)),
        part: (id) => within.push(id),
      }
      const { write } = context
      await first?.(context)
      await write()
      for await (const page of parts(transaction)) {
        stale.push(...(await writePage(db, context, page)))
        await write()
      }
      if (stale.length > 0) throw changedSince(stale)
      await along?.(context)
      await write()
      const [row] = await db.sequelize.query<{ revision: number }>(
        'SELECT revision FROM organisation WHERE id = 1 FOR UPDATE',
        { type: QueryTypes.SELECT, transaction },
      )
      await lastLook?.(transaction)
      const revision = Number(row?.revision ?? 0) + 1
      const now = new Date()
      const live = liveAt(now)
      await entry.update({ revision, at: now, liveAt: live }, { transaction })
      for (const [index, id] of within.entries())
        await db.LedgerEntry.update(
          { revision: revision + 1 + index, at: now, liveAt: live },
          { where: { id }, transaction },
        )
      await db.sequelize.query('UPDATE organisation SET revision = ? WHERE id = 1', {
        replacements: [revision + within.length],
        transaction,
      })
      return entry.id
    }),
  )
  tellChanged()
  return entryId
}

export const changedSince = (addresses: readonly string[]) =>
  new Problem(
    409,
    'Changed meanwhile',
    `${addresses.length === 1 ? `${addresses[0]} was` : `${addresses.length} links were`} changed by somebody ` +
      'meanwhile; nothing was done. Look at the proposal again.',
    [],
    { stale: addresses.slice(0, 100) },
  )

/** So many are kept by one statement. */
const KEPT_AT_ONCE = 1000

const same = (one: unknown, other: unknown) => JSON.stringify(one) === JSON.stringify(other)

/** Keeps beside an entry what it did to links. */
async function keepParts(
  db: Database,
  { transaction, entryId }: ManyContext,
  kept: readonly [number, string, string][],
): Promise<void> {
  for (let from = 0; from < kept.length; from += KEPT_AT_ONCE)
    await db.sequelize.query('INSERT INTO ledger_entry_link (entry_id, link_id, before_state, after_state) VALUES ?', {
      replacements: [kept.slice(from, from + KEPT_AT_ONCE).map((row) => [entryId, ...row])],
      transaction,
    })
}

/** Writes one page; gives the addresses of links that are not as told, of which nothing is written. */
async function writePage(
  db: Database,
  { transaction, hosts, keep }: ManyContext,
  parts: readonly Part[],
): Promise<string[]> {
  const ids = parts.map(({ linkId }) => linkId)
  const links = await db.Link.findAll({
    where: { id: ids },
    order: [['id', 'ASC']],
    transaction,
    lock: transaction.LOCK.UPDATE,
  })
  const tags = await readTags(db, ids, transaction)
  const byId = new Map(links.map((link) => [link.id, link]))
  const stale: string[] = []
  const sound: { link: LinkModel; part: Part; was: ReturnType<typeof linkState> }[] = []
  for (const part of parts) {
    const link = byId.get(part.linkId)
    const was = link && linkState(link, tags.get(link.id)!)
    const fits =
      was &&
      (part.version === undefined || link.version === part.version) &&
      Object.entries(part.before).every(([field, value]) => same(was[field as keyof typeof was], value))
    if (fits) sound.push({ link, part, was })
    else stale.push(link ? `${hosts.get(link.domainId)}/${link.slug}` : `link ${part.linkId}`)
  }
  if (stale.length > 0 || sound.length === 0) return stale
  const ranks = await readRanks(
    db,
    transaction,
    sound.flatMap(({ part }) => (part.after.destination === undefined ? [] : destinationHash(part.after.destination))),
  )
  const moves = sound.flatMap(({ link, part, was }) =>
    part.after.canonical === undefined
      ? []
      : [{ link, was, part, domainId: part.after.domainId ?? link.domainId, canonical: part.after.canonical! }],
  )
  await makeRoom(db, transaction, moves, hosts, keep)
  const forwarding = await readForwarding(db, ids, transaction)
  const rows = sound.map(({ link, part, was }) => {
    const now = { ...was, ...part.after }
    const { tags: _tags, ...fields } = part.after
    const values: { [field: string]: unknown } = modelValues(LINK_FIELDS, fields)
    if (part.after.destination !== undefined) {
      const hash = destinationHash(now.destination)
      Object.assign(values, { destinationHash: hash, targetRank: ranks.get(hash) ?? 0 })
    }
    const also = (forwarding.get(link.id) ?? []).map(({ address }) => address)
    if (part.forward) also.push(`${showHost(hosts.get(was.domainId)!)}/${was.slug}`)
    values.searchText = searchText(hosts.get(now.domainId)!, now, also)
    return { id: link.id, values }
  })
  await updateRows(db, transaction, rows)
  await writeManyTags(
    db,
    transaction,
    sound.map(({ part }) => part).filter(({ after }) => after.tags !== undefined),
  )
  for (const { part } of sound) keep(part.linkId, part.before, part.after)
  await leaveSlugs(
    db,
    transaction,
    moves.flatMap(({ link, was, part }) =>
      part.forward && was.canonical !== null
        ? [{ forwardsTo: link.id, domainId: was.domainId, slug: was.slug, canonical: was.canonical, state: was }]
        : [],
    ),
    hosts,
    keep,
  )
  return stale
}

/** A column beside the fields that describe a link. */
const columnFor = (field: string) => (field === 'searchText' ? 'search_text' : columnOf(LINK_FIELDS, field))

/** Writes rows of one set of columns each by one statement: the values travel as one document. */
async function updateRows(
  db: Database,
  transaction: Transaction,
  rows: readonly { id: number; values: { [field: string]: unknown } }[],
): Promise<void> {
  const groups = new Map<string, (typeof rows)[number][]>()
  for (const row of rows) {
    const key = Object.keys(row.values).sort().join()
    const group = groups.get(key)
    if (group) group.push(row)
    else groups.set(key, [row])
  }
  for (const group of groups.values()) {
    const fields = Object.keys(group[0]!.values).sort()
    const columns = fields.map(columnFor)
    const document = group.map(({ id, values }) => [id, ...fields.map((field) => columnValue(values[field]))])
    await db.sequelize.query(
      `UPDATE link l JOIN JSON_TABLE(:document, '$[*]' COLUMNS (id BIGINT UNSIGNED PATH '$[0]',
         ${columns.map((column, index) => `${column} LONGTEXT PATH '$[${index + 1}]'`).join(', ')})) j ON j.id = l.id
       SET ${columns.map((column) => `l.${column} = j.${column}`).join(', ')}, l.version = l.version + 1,
         l.updated_at = UTC_TIMESTAMP(3)`,
      { replacements: { document: JSON.stringify(document) }, transaction },
    )
  }
}

async function writeManyTags(db: Database, transaction: Transaction, parts: readonly Part[]): Promise<void> {
  if (parts.length === 0) return
  await db.LinkTag.destroy({ where: { linkId: parts.map(({ linkId }) => linkId) }, transaction })
  await addManyTags(
    db,
    transaction,
    parts.map(({ linkId, after }) => ({ linkId, names: after.tags! })),
  )
}
