/** How long work goes on before others get their turn, in milliseconds. */
const TURN_MS = 4
/** How long considerate work rests after each turn: a request takes several turns of the loop, one after another. */
const REST_MS = 2

/**
 * Makes what long work awaits at each of its steps: now and then it lets others have their turn. What nobody waits for
 * is considerate, and rests between its turns, so that a request that came meanwhile is answered whole.
 */
export function yielder(manner: 'brisk' | 'considerate' = 'brisk'): () => Promise<void> | undefined {
  let last = performance.now()
  return () => {
    if (performance.now() - last < TURN_MS) return undefined
    return new Promise((resolve) => {
      const goOn = () => {
        last = performance.now()
        resolve()
      }
      if (manner === 'brisk') setImmediate(goOn)
      else setTimeout(goOn, REST_MS)
    })
  }
}

/** Runs what is computed in steps to its end, and lets others have their turn in between. */
export async function inSteps<Result>(steps: Generator<unknown, Result>, yieldNow = yielder()): Promise<Result> {
  for (;;) {
    const { done, value } = steps.next()
    if (done) return value
    await yieldNow()
  }
}
