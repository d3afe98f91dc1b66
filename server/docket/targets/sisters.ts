import type { Move } from '../../../core/targets'
import type { TargetModel } from '../../database/models/target'
import type { Database } from '../../database/open'
import { interestIn, type Interest } from '../../usecases/targets/link-targets'
import { explainedBy } from '../../usecases/targets/find-remedies'

/** A failing target that the same move explains, with where it takes its links. */
export interface Sister {
  to: string
  links: Interest['links']
}

/** Failing targets beside this one that a move explains and whose new place was tried and answers. */
export async function sistersOf(db: Database, target: TargetModel, move: Move): Promise<Sister[]> {
  const found = await explainedBy(db, target.host, move)
  const tried = found.filter(
    ({ target: other, to }) =>
      other.id !== target.id && other.remedies?.offers.some(({ destination }) => destination === to),
  )
  return Promise.all(
    tried.map(async ({ target: other, to }) => ({ to, links: (await interestIn(db, other.hash)).links })),
  )
}
