export { CASE_KINDS, isRemark, LANES, shareHarmed } from './kinds'
export type { CaseKindName, LaneName } from './kinds'
export { nearness, reckoning, urgencyOf } from './urgency'
