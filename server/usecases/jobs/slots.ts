import { currentAsker } from '../../threads/asker'
import type { Problem } from '../problem'

/** Places for work in this process. A place is taken before anything is awaited, so that no burst exceeds the limit. */
export class Slots {
  private taken = 0
  private readonly byAsker = new Map<string, number>()

  /** At most `limit` in all, and `share` of them for one member. */
  constructor(
    private readonly limit: number,
    private readonly share: number,
    private readonly refusal: () => Problem,
  ) {}

  /** Takes a place; returns what frees it, which may be called again. Throws the refusal where none is free. */
  take(): () => void {
    const key = currentAsker()?.key ?? ''
    const own = this.byAsker.get(key) ?? 0
    if (this.taken >= this.limit || own >= this.share) throw this.refusal()
    this.taken++
    this.byAsker.set(key, own + 1)
    let isTaken = true
    return () => {
      if (!isTaken) return
      isTaken = false
      this.taken--
      const left = this.byAsker.get(key)! - 1
      if (left > 0) this.byAsker.set(key, left)
      else this.byAsker.delete(key)
    }
  }
}
