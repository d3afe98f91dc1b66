import type { INTAKE_STATES, PROPOSAL_STATES, ConflictScan, CheckRun, ReplayView } from '../schemas'
import type { JobKind } from './job-kind'

/** A change to many links: calculated, reviewed, applied now or when it is scheduled. */
export const PROPOSAL_JOB: JobKind<(typeof PROPOSAL_STATES)[number]> = {
  table: 'proposal',
  transitions: {
    computing: ['ready', 'waiting', 'held', 'failed', 'withdrawn'],
    ready: ['ready', 'computing', 'waiting', 'applying', 'withdrawn'],
    waiting: ['ready', 'computing', 'waiting', 'applying', 'held', 'withdrawn'],
    held: ['ready', 'computing', 'waiting', 'applying', 'held', 'withdrawn'],
    applying: ['applied', 'ready', 'waiting', 'held'],
    failed: ['withdrawn'],
    applied: [],
    withdrawn: [],
  },
  working: { computing: 1800, applying: 1800 },
}

/** A file: read and compared, decided line by line, applied as one. */
export const IMPORT_JOB: JobKind<(typeof INTAKE_STATES)[number]> = {
  table: 'intake',
  transitions: {
    reading: ['ready', 'failed', 'withdrawn'],
    ready: ['ready', 'reading', 'applying', 'withdrawn'],
    applying: ['applied', 'ready'],
    failed: ['reading', 'withdrawn'],
    applied: [],
    withdrawn: [],
  },
  working: { reading: 300, applying: 1800 },
}

/** Past requests run through two tables. */
export const REPLAY_JOB: JobKind<ReplayView['state']> = {
  table: 'replay',
  transitions: { running: ['done', 'failed', 'cancelled'], done: [], failed: [], cancelled: [] },
  working: { running: 600 },
}

/** A full scan for conflicts. */
export const SCAN_JOB: JobKind<ConflictScan['state']> = {
  table: 'conflict_scan',
  transitions: {
    queued: ['running', 'cancelled'],
    running: ['queued', 'done', 'failed', 'cancelled'],
    done: [],
    failed: [],
    cancelled: [],
  },
  working: { running: 1800 },
}

/** Checks that somebody asked for; workers lease the destinations, not the run. */
export const CHECK_RUN_JOB: JobKind<CheckRun['state']> = {
  table: 'check_run',
  transitions: { running: ['done', 'cancelled'], done: [], cancelled: [] },
  working: {},
}

export const JOB_KINDS = [PROPOSAL_JOB, IMPORT_JOB, REPLAY_JOB, SCAN_JOB, CHECK_RUN_JOB] as const
