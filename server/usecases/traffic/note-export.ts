import type { TrafficQuery } from '../../../core/schemas'
import type { Database } from '../../database/open'
import { runChange, type Actor } from '../ledger/change'

/** Notes in the ledger who took which figures out, and as what. */
export async function noteExport(db: Database, actor: Actor, query: TrafficQuery, as: string): Promise<void> {
  const { from, to, by, kind } = query
  await runChange(db, actor, (change) =>
    change.record({
      action: 'export-traffic',
      subject: { kind: 'organisation', id: 1, label: 'Traffic' },
      before: null,
      after: { words: `as ${as}: ${kind}, ${from} to ${to}${by ? `, by ${by}` : ''}` },
    }),
  )
}
