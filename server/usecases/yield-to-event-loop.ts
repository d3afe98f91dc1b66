/** How long work goes on before others get their turn, in milliseconds. */
const BREATH_MS = 20

/** Makes what long work awaits at its steps: it lets others have their turn now and then. */
export function breather(): () => Promise<void> | undefined {
  let last = Date.now()
  return () => {
    if (Date.now() - last < BREATH_MS) return undefined
    return new Promise((resolve) =>
      setImmediate(() => {
        last = Date.now()
        resolve()
      }),
    )
  }
}
