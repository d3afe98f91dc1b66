/** How long work goes on before others get their turn, in milliseconds. */
const TURN_MS = 12

/** Makes what long work awaits at each of its steps: now and then it lets others have their turn. */
export function yielder(): () => Promise<void> | undefined {
  let last = performance.now()
  return () => {
    if (performance.now() - last < TURN_MS) return undefined
    return new Promise((resolve) =>
      setImmediate(() => {
        last = performance.now()
        resolve()
      }),
    )
  }
}

/** Runs what is computed in steps to its end, and lets others have their turn in between. */
export async function inSteps<Result>(steps: Generator<unknown, Result>): Promise<Result> {
  const yieldNow = yielder()
  for (;;) {
    const { done, value } = steps.next()
    if (done) return value
    await yieldNow()
  }
}
