import { QueryTypes } from 'sequelize'
import type { Case } from '../../../core/schemas'
import type { Database } from '../../database/open'
import { laneOf } from '../../docket/lanes'
import type { NamesContext } from '../../names/context'
import { findCase, toCaseView } from './case-view'

/** One case with its subjects, and its remedies verified at this moment. */
export async function readCase(db: Database, names: NamesContext, id: number): Promise<Case> {
  const { row, host } = await findCase(db, id)
  const lane = laneOf(row)
  const [subjects, links, remedies, aftermath] = await Promise.all([
    lane.subjects(db, row, host),
    linksOf(db, id),
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

/** The links a case names; of very many the first. */
async function linksOf(db: Database, id: number): Promise<number[]> {
  const rows = await db.sequelize.query<{ link_id: number }>(
    'SELECT link_id FROM docket_case_link WHERE case_id = ? ORDER BY link_id',
    { replacements: [id], type: QueryTypes.SELECT },
  )
  return rows.map((row) => Number(row.link_id))
}

/** From a case about several links to a change of all of them. */
const changeAll = (links: readonly number[]): Case['subjects'] =>
  links.length < 2
    ? []
    : [{ label: `Change these ${links.length} links…`, to: `/changes/new?links=${links.join(',')}` }]
