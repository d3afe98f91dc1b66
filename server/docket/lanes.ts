import { kindsOf, type CaseKindName, type LaneName } from '../../core/docket'
import type { Case } from '../../core/schemas'
import type { DocketCaseModel } from '../database/models/docket-case'
import type { Database } from '../database/open'
import type { NamesContext } from '../names/context'
import { conflictsLane } from './conflicts/lane'
import { domainsLane } from './domains/lane'
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
}

/** The lanes there are cases in. A new one is its folder and its line here; its kinds stand in core/docket/kinds.ts. */
const LANES: Partial<Record<LaneName, Lane>> = {
  conflicts: conflictsLane,
  domains: domainsLane,
}

/** The lane of a case. */
export const laneOf = (row: Pick<DocketCaseModel, 'lane'>): Lane => LANES[row.lane]!

/** The kinds of cases there can be. */
export const knownKinds = (): CaseKindName[] => (Object.keys(LANES) as LaneName[]).flatMap(kindsOf)
