const FIRST_MS = 1000
const MAX_MS = 60_000
/** What somebody ended, or the system for want of memory, has no fault of its own. */
const MAX_KILLED_MS = 4000
/** What has run this long was well; its next fault is a first one. */
const WELL_MS = 60_000

/** How long to wait before something that ended is started again, in milliseconds: twice as long each time, by name. */
export class Backoff {
  private readonly faults = new Map<string, number>()

  /** `firstMs` is waited after a first fault. */
  constructor(private readonly firstMs = FIRST_MS) {}

  /** `livedMs` is how long it ran before it ended; `isKilled` where a signal ended it. */
  next(name: string, livedMs: number, isKilled = false): number {
    const faults = livedMs >= WELL_MS ? 0 : (this.faults.get(name) ?? 0)
    this.faults.set(name, faults + 1)
    return Math.min(isKilled ? MAX_KILLED_MS : MAX_MS, this.firstMs * 2 ** faults)
  }
}
