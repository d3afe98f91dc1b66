/** How long work goes on before others get their turn, in milliseconds. */
const TURN_MS = 3
/**
 * How long work stands back, at most, for requests that are under way, in milliseconds: one takes many short turns of
 * the loop, and would wait for each of them. Brisk work, for which somebody waits, goes on at half speed at least.
 */
const STANDS_BACK_MS = { brisk: 3, considerate: 30 }

let underWay = 0

/** Notes that a request is under way; what it gives notes its end, and may be called again without harm. */
export function requestBegins(): () => void {
  let ended = false
  underWay++
  return () => {
    if (!ended) underWay--
    ended = true
  }
}

/** Waits for long work in a request that has nothing else to do: that work must not stand back for it. */
export async function waitFor<Result>(work: Promise<Result>): Promise<Result> {
  underWay--
  try {
    return await work
  } finally {
    underWay++
  }
}

/**
 * Makes what long work awaits at each of its steps: now and then it lets others have their turn. Brisk work is part of
 * a request itself and stands back for others; what nobody waits for is considerate, and stands back for all.
 */
export function yielder(manner: 'brisk' | 'considerate' = 'brisk'): () => Promise<void> | undefined {
  const own = manner === 'brisk' ? 1 : 0
  let last = performance.now()
  return () => {
    if (performance.now() - last < TURN_MS) return undefined
    return new Promise((resolve) => {
      const until = performance.now() + STANDS_BACK_MS[manner]
      const goOn = () => {
        if (underWay > own && performance.now() < until) return void setTimeout(goOn, 1)
        last = performance.now()
        resolve()
      }
      setImmediate(goOn)
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
