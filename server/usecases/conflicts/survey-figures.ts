import { QueryTypes } from 'sequelize'
import type { Survey } from '../../../core/conflicts'
import type { Database } from '../../database/open'
import { yielder } from '../yield-to-event-loop'

/** Figures of visits are taken over so often, in milliseconds. */
export const FIGURES_MS = 300_000
const PAGE = 1000

/** Takes the figures of visits over into a survey's rows: they change without an entry in the ledger. */
export async function takeFigures(db: Database, survey: Survey): Promise<void> {
  const yieldNow = yielder('considerate')
  for (const [table, rows] of [
    ['link', survey.state.links],
    ['rule', survey.state.rules],
  ] as const) {
    const figures = new Map<number, number>()
    for (let after = 0; ;) {
      const some = await db.sequelize.query<{ id: number; visits: number }>(
        `SELECT id, visits_28 AS visits FROM ${table} WHERE id > ? AND visits_28 > 0 ORDER BY id LIMIT ${PAGE}`,
        { replacements: [after], type: QueryTypes.SELECT },
      )
      if (some.length === 0) break
      after = Number(some.at(-1)!.id)
      for (const { id, visits } of some) figures.set(Number(id), Number(visits))
      await yieldNow()
    }
    for (const row of rows.values()) {
      row.visits28 = figures.get(row.id) ?? 0
      await yieldNow()
    }
  }
}
