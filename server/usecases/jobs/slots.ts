import type { Problem } from '../problem'

/** Places for work in this process. A place is taken before anything is awaited, so that no burst exceeds the limit. */
export class Slots {
  private taken = 0

  constructor(
    private readonly limit: number,
    private readonly refusal: () => Problem,
  ) {}

  /** Takes a place; returns what frees it, which may be called again. Throws the refusal where none is free. */
  take(): () => void {
    if (this.taken >= this.limit) throw this.refusal()
    this.taken++
    let isLockConflict = true
    return () => {
      if (isLockConflict) this.taken--
      isLockConflict = false
    }
  }
}
