const sleepFor = (milliseconds: number) => new Promise<void>((resolve) => setTimeout(resolve, milliseconds))

/**
 * Lets at most `perSecond` callers through in any second, in the order they came. The gap is kept between actual
 * passings, so that callers held up together (by a busy machine) do not leave together. `now` and `sleep` are in
 * milliseconds.
 */
export function makePace(
  perSecond: number,
  now: () => number = () => performance.now(),
  sleep: (milliseconds: number) => Promise<void> = sleepFor,
): () => Promise<void> {
  // A timer may fire a little early; spacing by more than the exact share keeps every window below the limit.
  const gap = 1000 / perSecond + 1
  let last = Number.NEGATIVE_INFINITY
  let line = Promise.resolve()
  return () =>
    (line = line.then(async () => {
      const wait = last + gap - now()
      if (wait > 0) await sleep(wait)
      last = now()
    }))
}
