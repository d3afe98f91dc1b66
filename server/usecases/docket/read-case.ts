import type { Case } from '../../../core/schemas'
import type { Database } from '../../database/open'
import { laneOf } from '../../docket/lanes'
import type { NamesContext } from '../../names/context'
import { findCase, toCaseView } from './case-view'

/** One case with its subjects, and its remedies verified at this moment. */
export async function readCase(db: Database, names: NamesContext, id: number): Promise<Case> {
  const { row, host } = await findCase(db, id)
  const [subjects, remedies] = await Promise.all([
    laneOf(row).subjects(db, row, host),
    row.state === 'settled' ? [] : laneOf(row).remedies(db, names, row),
  ])
  return { ...toCaseView(row, host), subjects, remedies: remedies.map(({ view }) => view) }
}
