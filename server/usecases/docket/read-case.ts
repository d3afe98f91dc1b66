import type { Case } from '../../../core/schemas'
import type { Database } from '../../database/open'
import { linksOfCase } from '../../docket/keeper'
import { laneOf } from '../../docket/lanes'
import type { NamesContext } from '../../names/context'
import { findCase, toCaseView } from './case-view'

/** One case with its subjects, and its remedies verified at this moment. */
export async function readCase(db: Database, names: NamesContext, id: number): Promise<Case> {
  const { row, host } = await findCase(db, id)
  const lane = laneOf(row)
  const [subjects, links, remedies, aftermath] = await Promise.all([
    lane.subjects(db, row, host),
    linksOfCase(db, id),
    row.state === 'settled' ? [] : lane.remedies(db, names, row),
    row.state === 'settled' ? (lane.aftermath?.(db, row) ?? []) : [],
  ])
  const view = toCaseView(row, host)
  return {
    ...view,
    evidence: [...view.evidence, ...aftermath],
    subjects: [...subjects, ...changeAll(links)],
    remedies: remedies.map((remedy) => remedy.view),
  }
}

/** From a case about several links to a change of all of them. */
const changeAll = (links: readonly number[]): Case['subjects'] =>
  links.length < 2
    ? []
    : [{ label: `Change these ${links.length} links…`, to: `/changes/new?links=${links.join(',')}` }]
