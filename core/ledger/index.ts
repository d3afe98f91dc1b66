export { ACTIONS, actionWords, SUBJECT_KINDS, undoRole } from './actions'
export type { Action, SubjectKind } from './actions'
export { subjectKey, takeBack } from './as-of'
export type { PastEntry, States } from './as-of'
