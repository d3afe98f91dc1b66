import type { Case, RemedyRequest } from '../../../core/schemas'
import type { Database } from '../../database/open'
import { laneOf } from '../../docket/lanes'
import type { NamesContext } from '../../names/context'
import type { Actor } from '../ledger/change'
import { versionConflict, notFound, Problem } from '../problem'
import { findCase, toCaseView } from './case-view'

/**
 * Applies a remedy by its id, with what it asks for, to a case that stands at `version`. Where the case is about
 * something else by now, it is refused with 412 and told in full: what was read is not what would be done.
 */
export async function applyRemedy(
  db: Database,
  names: NamesContext,
  actor: Actor,
  id: number,
  version: number,
  remedy: string,
  request: RemedyRequest,
): Promise<{ case: Case; sentence: string }> {
  const { row, host } = await findCase(db, id)
  if (row.state === 'settled') throw new Problem(409, 'Settled', 'This case has been settled already.')
  if (row.version !== version) throw versionConflict('this case', toCaseView(row, host), request)
  const chosen = (await laneOf(row).remedies(db, names, row)).find(({ view }) => view.id === remedy)
  if (!chosen) throw notFound('remedy')
  if (!chosen.apply)
    throw new Problem(
      409,
      'Not from here',
      `“${chosen.view.title}” cannot be applied from here. ${chosen.view.sentence}`,
    )
  const sentence = await chosen.apply(actor, request)
  const after = await findCase(db, id)
  return { case: toCaseView(after.row, after.host), sentence }
}
