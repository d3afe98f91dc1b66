/** A sleep that can be cut short. */
export interface Nap {
  /** Resolves after `ms`, or at the next `wake`. */
  sleep(ms: number): Promise<void>
  wake(): void
}

export function createNap(): Nap {
  let end: (() => void) | undefined
  return {
    sleep: (ms) =>
      new Promise((resolve) => {
        const timer = setTimeout(resolve, ms)
        end = () => {
          clearTimeout(timer)
          resolve()
        }
      }),
    wake: () => end?.(),
  }
}
