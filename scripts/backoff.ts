const FIRST_MS = 1000
const MOST_MS = 60_000
/** What has run this long was well; its next fault is a first one. */
const WELL_MS = 60_000

/** How long to wait before something that ended is started again, in milliseconds: twice as long each time, by name. */
export class Backoff {
  private readonly faults = new Map<string, number>()

  /** `livedMs` is how long it ran before it ended. */
  next(name: string, livedMs: number): number {
    const faults = livedMs >= WELL_MS ? 0 : (this.faults.get(name) ?? 0)
    this.faults.set(name, faults + 1)
    return Math.min(MOST_MS, FIRST_MS * 2 ** faults)
  }
}
