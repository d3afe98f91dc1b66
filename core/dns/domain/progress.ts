import type { PlanStep, StepKey } from './plan'

/** What was seen of a plan so far; moments in milliseconds. */
export interface PlanSight {
  /** When every name server first served the old records with the low TTL. */
  loweredAt?: number
  /** Every name server serves the ownership record. */
  proved: boolean
  /** When the last name server began to serve the new records. */
  changedAt?: number
  /** When everyone sees them by the forecast. */
  everyoneBy?: number
  /** Every resolver that answers has the new records. */
  allSee: boolean
  open: boolean
  now: number
  /** TTLs run this many times as fast as the clock on the wall. */
  ttlSpeed: number
}

export interface StepProgress extends PlanStep {
  /** `skipped`: the switch was made without it. */
  state: 'done' | 'now' | 'later' | 'skipped'
  doneAt?: number
  /** Until when a waiting step lasts. */
  until?: number
}

/** Ticks a plan's steps by what was seen. The first that is not done is the one to do now. */
export function planProgress(steps: readonly PlanStep[], overview: PlanSight): StepProgress[] {
  const { loweredAt, changedAt, everyoneBy, now, open } = overview
  const switched = changedAt !== undefined
  let before = true
  return steps.map((step) => {
    const done = open || isDone(step)
    const skipped = (step.key === 'lower-ttl' || step.key === 'wait-old-ttl') && loweredAt === undefined
    const state = done ? (skipped ? 'skipped' : 'done') : before ? 'now' : 'later'
    before &&= done
    return { ...step, state, ...times(step.key) }
  })

  function isDone(step: PlanStep): boolean {
    switch (step.key) {
      case 'lower-ttl':
        return loweredAt !== undefined || switched
      case 'wait-old-ttl':
        return switched || (loweredAt !== undefined && now >= loweredAt + span(step.waitSeconds))
      case 'prove':
        return overview.proved
      case 'switch':
        // Where it is one with the proof, both must be seen.
        return switched && (overview.proved || steps.some(({ key }) => key === 'prove'))
      case 'wait':
        return switched && overview.allSee && everyoneBy !== undefined && now >= everyoneBy
      case 'open':
        return false
    }
  }
  function times(key: StepKey): { doneAt?: number; until?: number } {
    if (key === 'lower-ttl' && loweredAt !== undefined) return { doneAt: loweredAt }
    if (key === 'wait-old-ttl' && loweredAt !== undefined && !switched)
      return { until: loweredAt + span(steps.find((step) => step.key === key)!.waitSeconds) }
    if (key === 'switch' && changedAt !== undefined) return { doneAt: changedAt }
    if (key === 'wait' && everyoneBy !== undefined) return { until: everyoneBy }
    return {}
  }
  function span(seconds: number): number {
    return (seconds * 1000) / overview.ttlSpeed
  }
}
