export {
  compileCondition,
  CONDITION_KINDS,
  conditionCovers,
  conditionFingerprint,
  conditionSchema,
  conditionsMeet,
  conditionVaries,
  conditionWords,
  exampleVisitor,
} from './condition'
export type { CompiledCondition, Condition, ConditionPart } from './condition'
export { NOBODY } from './kind'
export type { ConditionKind, Visitor } from './kind'
export { lookUpLanguage } from './language'
export type { LanguagePart } from './language'
export { QUERY_MODES } from './query'
export type { QueryPart } from './query'
