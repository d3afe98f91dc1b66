export { CONFLICT_KINDS } from './model'
export type {
  Conflict,
  ConflictKind,
  ScanProgress,
  SurveyChange,
  SurveyDiff,
  SurveyDomain,
  SurveyLink,
  SurveyRule,
} from './model'
export { lookNeighbours, slipNeighbours } from './pairs'
export { servingRule } from './rule-findings'
export { Survey } from './survey'
export { fingerprintOf, impactOf, severityOf, tellConflict } from './tell'
export type { ToldConflict } from './tell'
export { twinKey } from './twin-key'
export { follow } from './ways'
