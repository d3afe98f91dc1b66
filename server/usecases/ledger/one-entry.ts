import type { Record } from './write-entry'
import type { Change } from './change'
import type { Database } from '../../database/open'

/**
 * Does several things as one entry of the ledger: what `work` records is part of the entry that `head` describes, and
 * is undone with it. `head` gets what `work` did and the ids of the links concerned. If `work` records a single entry,
 * that one stands by itself. Returns what `work` did and the id of the entry, `null` if nothing was recorded.
 */
export async function asOneEntry<Result>(
  db: Database,
  change: Change,
  work: (change: Change) => Promise<Result>,
  head: (result: Result, links: number[]) => Record,
): Promise<{ result: Result; entry: number | null }> {
  const parts: number[] = []
  const links = new Set<number>()
  const noting = Object.assign(Object.create(change) as Change, {
    async record(entry: Record) {
      const id = await change.record(entry)
      parts.push(id)
      if (entry.subject.kind === 'link') links.add(entry.subject.id)
      for (const link of entry.links ?? []) links.add(link)
      return id
    },
  })
  const result = await work(noting)
  if (parts.length <= 1) return { result, entry: parts[0] ?? null }
  const entry = await change.record(
    head(
      result,
      [...links].sort((a, b) => a - b),
    ),
  )
  await db.LedgerEntry.update({ partOf: entry }, { where: { id: parts }, transaction: change.transaction })
  return { result, entry }
}
