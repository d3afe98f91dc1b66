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
export type { Condition, ConditionPart } from './condition'
export { NOBODY } from './kind'
export type { Visitor } from './kind'
export { lookUpLanguage } from './language'
export type { LanguagePart } from './language'

export type { QueryPart } from './query'
