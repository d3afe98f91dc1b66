export { DOOR_EVENTS, type DoorEventKind } from './door-events'
export { SESSION_IDLE_HOURS, SESSION_WHOLE_DAYS } from './limits'
export { passwordStrength } from './password-strength'
