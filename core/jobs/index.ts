export { HEARTBEAT_SECONDS, isFinal, LEASE_SECONDS, mayMove } from './job-kind'
export type { Expected, JobKind } from './job-kind'
export { CHECK_RUN_JOB, IMPORT_JOB, JOB_KINDS, PROPOSAL_JOB, REPLAY_JOB, SCAN_JOB } from './kinds'
