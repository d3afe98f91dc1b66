export { ACTIONS, actionWords, SUBJECT_KINDS, undoRole } from './actions'
export type { Action, SubjectKind } from './actions'
