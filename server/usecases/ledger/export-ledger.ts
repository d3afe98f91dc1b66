import Papa from 'papaparse'
import { actionWords } from '../../../core/ledger'
import type { LedgerEntry } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { Actor } from './change'
import { listLedger } from './list-ledger'

const PAGE = 200
/** Beyond this the API's pages are the way. */
const MAX_ENTRIES = 50_000

const COLUMNS = [
  'number',
  'revision',
  'moment',
  'by',
  'what',
  'of',
  'subject',
  'reason',
  'before',
  'after',
  'undoes',
  'undone by',
]

const json = (state: LedgerEntry['before']) => (state === null ? '' : JSON.stringify(state))

/**
 * The ledger as somebody may see it, the newest first, as CSV (RFC 4180): of what is searched for at most 50,000
 * entries. What a spreadsheet would take for a formula is told as text.
 */
export async function exportLedger(
  db: Database,
  actor: Actor,
  query: { kind?: LedgerEntry['subject']['kind']; q?: string },
): Promise<string> {
  const parts = [Papa.unparse([COLUMNS], { newline: '\r\n' })]
  let cursor: string | undefined
  for (let count = 0; count < MAX_ENTRIES;) {
    const { items, next } = await listLedger(db, actor, { ...query, cursor, limit: PAGE }, undefined, { told: false })
    if (items.length > 0)
      parts.push(
        Papa.unparse(
          items.map((entry) => [
            entry.id,
            entry.revision,
            entry.at,
            entry.actor,
            actionWords(entry.action),
            entry.subject.kind,
            entry.subject.label,
            entry.reason,
            json(entry.before),
            json(entry.after),
            entry.undoes ?? '',
            entry.undoneBy ?? '',
          ]),
          { newline: '\r\n', escapeFormulae: true },
        ),
      )
    count += items.length
    if (next === null) break
    cursor = next
  }
  return parts.join('\r\n') + '\r\n'
}
