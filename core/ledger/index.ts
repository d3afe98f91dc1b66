export { actionWords, undoRole } from './actions'
export type { Action, SubjectKind } from './actions'
