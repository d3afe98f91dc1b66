/** Runs what is computed in steps to its end at once. */
export function atOnce<Result>(steps: Generator<unknown, Result>): Result {
  for (;;) {
    const step = steps.next()
    if (step.done) return step.value
  }
}
