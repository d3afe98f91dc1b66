import type { Case } from '../../core/schemas'
import type { DocketCaseModel } from '../database/models/docket-case'
import type { Database } from '../database/open'
import type { NamesContext } from '../names/context'
import type { ComposedRemedy } from './remedy'

/** What a lane declares of its cases; the screen shows just that. */
export interface Lane {
  /** What a case is called by. */
  name(row: DocketCaseModel, host: string | undefined): string
  /** How many visits it affects, in a sentence; `visits` is the figure in words. */
  affected(visits: string, host: string | undefined): string
  /** Where in the desk its subjects are. */
  subjects(db: Database, row: DocketCaseModel, host: string | undefined): Promise<Case['subjects']>
  /** What may be done about it, worked out and verified now; the best first. */
  remedies(db: Database, names: NamesContext, row: DocketCaseModel): Promise<ComposedRemedy[]>
  /** What came of a settled case, told beside its evidence. */
  aftermath?(db: Database, row: DocketCaseModel): Promise<Case['evidence']>
}
