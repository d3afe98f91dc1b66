export { CASE_KINDS, isRemark, LANES, shareHarmed } from './kinds'
export type { CaseKindName, LaneName } from './kinds'
export { reckoning, urgencyOf } from './urgency'
