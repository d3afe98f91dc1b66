/**
 * Lets at most `perSecond` callers through in any second: each waits for its turn, the turns being evenly spaced.
 * `now` and `sleep` are in milliseconds.
 */
export function makePace(perSecond: number, now: () => number = () => performance.now(), sleep: (milliseconds: number) => Promise<void> = (milliseconds) => new Promise((resolve) => setTimeout(resolve, milliseconds))): () => Promise<void> {
  // A timer may fire a little early or late; spacing by more than the exact share keeps every window below the limit.
  const gap = 1000 / perSecond + 1
  let next = 0
  return async () => {
    const turn = Math.max(now(), next)
    next = turn + gap
    const wait = turn - now()
    if (wait > 0) await sleep(wait)
  }
}
