import { QueryTypes, Transaction } from 'sequelize'
import { blockOf, indexGrams, offsetOf, withOffsets } from '../../../../core/search'
import type { Database } from '../../../database/open'
import { yielder } from '../../yield-to-event-loop'

/** Links indexed at once. With more, blocks are written less often; with fewer, the first links are ready sooner. */
export const MAX_LINKS = 20_000
/** Rows in one statement. */
const MAX_ROWS = 500

interface Behind {
  id: number
  search_text: Buffer
  crc: number
}

/**
 * Indexes links whose searched text changed; returns how many there were, at most `MAX_LINKS`. Trigrams that a link no
 * longer contains stay in the index: a search reads the text of every link it finds. If it is killed at any point, the
 * next run repeats the work; a link whose text changes meanwhile stays behind.
 */
export async function keepSearchIndex(db: Database): Promise<number> {
  const rows = await db.sequelize.query<Behind>(
    'SELECT id, search_text, CRC32(search_text) AS crc FROM link WHERE index_behind = 1 ORDER BY id LIMIT :limit',
    { replacements: { limit: MAX_LINKS }, type: QueryTypes.SELECT },
  )
  if (rows.length === 0) return 0
  const yieldNow = yielder('considerate')
  const added = new Map<number, Map<string, number[]>>()
  for (const { id, search_text } of rows) {
    let block = added.get(blockOf(id))
    if (!block) added.set(blockOf(id), (block = new Map()))
    for (const gram of indexGrams(search_text.toString())) {
      const offsets = block.get(gram)
      if (offsets) offsets.push(offsetOf(id))
      else block.set(gram, [offsetOf(id)])
    }
    await yieldNow()
  }
  for (const [block, grams] of added) {
    // Always in the same order: two workers cannot deadlock.
    const sorted = [...grams].sort(([a], [b]) => (a < b ? -1 : 1))
    for (let from = 0; from < sorted.length; from += MAX_ROWS)
      await addToBlock(db, block, sorted.slice(from, from + MAX_ROWS))
  }
  for (let from = 0; from < rows.length; from += MAX_ROWS) await markIndexed(db, rows.slice(from, from + MAX_ROWS))
  return rows.length
}

/** Adds links to some trigrams of one block. */
async function addToBlock(db: Database, block: number, grams: readonly [string, number[]][]): Promise<void> {
  await db.sequelize.transaction(async (transaction) => {
    const known = await db.sequelize.query<{ gram: string; links: Buffer }>(
      'SELECT gram, links FROM search_gram WHERE block = :block AND gram IN (:grams) FOR UPDATE',
      { replacements: { block, grams: grams.map(([gram]) => gram) }, type: QueryTypes.SELECT, transaction },
    )
    const stored = new Map(known.map(({ gram, links }) => [gram, links]))
    const rows = grams.map(([gram, offsets]) => [gram, block, Buffer.from(withOffsets(stored.get(gram), offsets))])
    await db.sequelize.query(
      `INSERT INTO search_gram (gram, block, links) VALUES ${rows.map(() => '(?)').join(', ')}
       ON DUPLICATE KEY UPDATE links = VALUES(links)`,
      { replacements: rows, transaction },
    )
  })
}

/**
 * Marks links as indexed, with the checksum of the text that was indexed. A link that another transaction has locked is
 * skipped, so that this can never be part of a deadlock with a change.
 */
async function markIndexed(db: Database, rows: readonly Behind[]): Promise<void> {
  // If the database scans the table, it must not wait for locks on other rows.
  const isolationLevel = Transaction.ISOLATION_LEVELS.READ_COMMITTED
  await db.sequelize.transaction({ isolationLevel }, async (transaction) => {
    const free = await db.sequelize.query<{ id: number }>(
      'SELECT id FROM link WHERE id IN (:ids) FOR UPDATE SKIP LOCKED',
      { replacements: { ids: rows.map(({ id }) => id) }, type: QueryTypes.SELECT, transaction },
    )
    if (free.length === 0) return
    const crcs = new Map(rows.map(({ id, crc }) => [id, crc]))
    const cases = free.map(() => 'WHEN ? THEN ?').join(' ')
    await db.sequelize.query(`UPDATE link SET indexed_crc = CASE id ${cases} END WHERE id IN (?)`, {
      replacements: [...free.flatMap(({ id }) => [id, crcs.get(id)!]), free.map(({ id }) => id)],
      transaction,
    })
  })
}
