export { readDevice } from './device'

export { readEvent, writeEvent, writeVisitor } from './event'
export type { VisitEvent } from './event'
export { agentKind, visitKind } from './kind'
export type { AgentKind } from './kind'
export { firstLanguage, forwardedAddress, forwardedScheme, referrerHost, referrerPage } from './origin'
export { holdersOf } from './holders'
export type { PermanentAnswer } from './holders'
