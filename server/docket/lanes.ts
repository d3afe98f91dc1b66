import type { LaneName } from '../../core/docket'
import type { DocketCaseModel } from '../database/models/docket-case'
import { conflictsLane } from './conflicts/lane'
import { datesLane } from './dates/lane'
import { domainsLane } from './domains/lane'
import { missesLane } from './misses/lane'
import { targetsLane } from './targets/lane'
import type { Lane } from './lane'

/** The lanes there are cases in. A new one is its folder and its line here; its kinds stand in core/docket/kinds.ts. */
const LANES: Partial<Record<LaneName, Lane>> = {
  conflicts: conflictsLane,
  domains: domainsLane,
  targets: targetsLane,
  misses: missesLane,
  dates: datesLane,
}

/** The lane of a case. */
export const laneOf = (row: Pick<DocketCaseModel, 'lane'>): Lane => LANES[row.lane]!
