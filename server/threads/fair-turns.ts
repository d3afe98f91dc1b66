import { Problem } from '../usecases/problem'
import { clientGone, currentAsker } from './asker'

export interface FairTurnsLimits {
  /** Work done at a time in this process. */
  atOnce: number
  /** Of it, for one member at a time; default 1. */
  atOncePerAsker?: number
  /** Work that may wait. */
  waiting: number
  /** Of it, for one member. */
  waitingPerAsker: number
  /** What it is, within a sentence: “uploads”. */
  what: string
}

interface Waiting {
  key: string
  begin(): void
}

/** The key of the desk’s own work, which has no share of its own. */
const OWN = ''

/**
 * Turns at something that few can do at a time. Nobody holds more than their share, and of those who wait the one comes
 * next who had a turn longest ago. Work whose client is gone is let go, waiting or begun.
 */
export class FairTurns {
  private readonly running = new Map<string, number>()
  private readonly waiting: Waiting[] = []
  /** Who had a turn, the last one at the end. */
  private readonly served = new Map<string, true>()
  private taken = 0

  constructor(private readonly limits: FairTurnsLimits) {}

  /** Does `work` when its turn comes; its signal aborts once its client is gone. Rejects if too many wait. */
  async run<Result>(work: (signal: AbortSignal | undefined) => Promise<Result>): Promise<Result> {
    const asker = currentAsker()
    const key = asker?.key ?? OWN
    const signal = asker?.signal
    if (signal?.aborted) throw clientGone()
    await this.turn(key, signal)
    try {
      return await work(signal)
    } finally {
      this.leave(key)
    }
  }

  private turn(key: string, signal: AbortSignal | undefined): Promise<void> | undefined {
    if (this.mayBegin(key)) {
      this.enter(key)
      return undefined
    }
    const { waiting, waitingPerAsker, what } = this.limits
    if (key !== OWN && this.waiting.filter((other) => other.key === key).length >= waitingPerAsker)
      throw new Problem(429, 'Busy', `Too many of your ${what} are in progress; try again when one has finished.`)
    if (this.waiting.length >= waiting)
      throw new Problem(503, 'Busy', `Too many ${what} are in progress; try again in a minute.`)
    return new Promise((resolve, reject) => {
      const place: Waiting = {
        key,
        begin: () => {
          signal?.removeEventListener('abort', leave)
          resolve()
        },
      }
      const leave = () => {
        this.waiting.splice(this.waiting.indexOf(place), 1)
        reject(clientGone())
      }
      signal?.addEventListener('abort', leave, { once: true })
      this.waiting.push(place)
    })
  }

  private mayBegin(key: string): boolean {
    const { atOnce, atOncePerAsker = 1 } = this.limits
    return this.taken < atOnce && (key === OWN || (this.running.get(key) ?? 0) < atOncePerAsker)
  }

  private enter(key: string): void {
    this.taken++
    this.running.set(key, (this.running.get(key) ?? 0) + 1)
    this.served.delete(key)
    this.served.set(key, true)
  }

  private leave(key: string): void {
    this.taken--
    const left = this.running.get(key)! - 1
    if (left > 0) this.running.set(key, left)
    else this.running.delete(key)
    this.next()
    if (this.taken === 0 && this.waiting.length === 0) this.served.clear()
  }

  /** Begins what may: first for who was never served, then for who was served longest ago. */
  private next(): void {
    const order = [...this.served.keys()]
    const allowed = this.waiting.filter(({ key }) => this.mayBegin(key))
    const [first] = allowed.sort((a, b) => order.indexOf(a.key) - order.indexOf(b.key))
    if (!first) return
    this.waiting.splice(this.waiting.indexOf(first), 1)
    this.enter(first.key)
    first.begin()
    this.next()
  }
}
