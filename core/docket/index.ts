export { CASE_KINDS, isRemark, kindsOf, LANES, shareHarmed } from './kinds'
export type { CaseKindName, LaneName } from './kinds'
export { nearness, reckoning, urgencyOf } from './urgency'
export type { UrgencyFacts } from './urgency'
