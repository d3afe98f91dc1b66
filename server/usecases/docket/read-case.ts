import type { Case } from '../../../core/schemas'
import type { Database } from '../../database/open'
import { laneOf } from '../../docket/lanes'
import type { NamesContext } from '../../names/context'
import { findCase, toCaseView } from './case-view'

/** One case with its subjects, and its remedies verified at this moment. */
export async function readCase(db: Database, names: NamesContext, id: number): Promise<Case> {
  const { row, host } = await findCase(db, id)
  const lane = laneOf(row)
  const [subjects, remedies, aftermath] = await Promise.all([
    lane.subjects(db, row, host),
    row.state === 'settled' ? [] : lane.remedies(db, names, row),
    row.state === 'settled' ? (lane.aftermath?.(db, row) ?? []) : [],
  ])
  const view = toCaseView(row, host)
  return {
    ...view,
    evidence: [...view.evidence, ...aftermath],
    subjects,
    remedies: remedies.map((remedy) => remedy.view),
  }
}
