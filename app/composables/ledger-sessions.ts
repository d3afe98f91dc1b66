import type { LedgerEntry } from '~~/core/schemas'

/** Entries of one person this close together belong to one session. */
const GAP_MS = 30 * 60_000
/** The newest entries of a session that are always shown. */
const SHOWN = 3
/** Fewer than this are not worth a fold. */
const MIN_FOLDED = 2

export interface LedgerSession {
  /** Stays the same while older entries are loaded. */
  key: number
  actor: string
  /** The newest entries. */
  shown: LedgerEntry[]
  /** Older ones, folded away at first. */
  folded: LedgerEntry[]
  /** What was done in the folded ones, the most frequent first. */
  counts: [action: string, count: number][]
}

/** Entries, the newest first, by the sessions in which one person made them. */
export function sessionsOf(entries: readonly LedgerEntry[]): LedgerSession[] {
  const groups: LedgerEntry[][] = []
  for (const entry of entries) {
    const group = groups.at(-1)
    const last = group?.at(-1)
    const isSame = last && last.actor === entry.actor && Date.parse(last.at) - Date.parse(entry.at) <= GAP_MS
    if (isSame) group!.push(entry)
    else groups.push([entry])
  }
  return groups.map((group) => {
    const isLong = group.length >= SHOWN + MIN_FOLDED
    const folded = isLong ? group.slice(SHOWN) : []
    const counts = new Map<string, number>()
    for (const { action } of folded) counts.set(action, (counts.get(action) ?? 0) + 1)
    return {
      key: group[0]!.id,
      actor: group[0]!.actor,
      shown: isLong ? group.slice(0, SHOWN) : group,
      folded,
      counts: [...counts].sort((a, b) => b[1] - a[1]),
    }
  })
}
