import { Problem } from '../problem'

/** Rows another transaction holds: told at once by NOWAIT (1205), or when two wait for each other (1213). */
const LOCK_ERRNOS = new Set([1205, 1213])
const PAUSE_MS = 100
const listeners = new Set<() => void>()

/** Calls `listener` each time a change is tried again because another held what it needed. */
export const onLockConflict = (listener: () => void): void => void listeners.add(listener)

/** A change to many links holds its rows for some seconds. */
const PATIENCE_MS = 20_000

const errnoOf = (error: unknown): number | undefined => {
  const of = (one: unknown) => (one as { errno?: number } | undefined)?.errno
  const { parent, original } = error as { parent?: unknown; original?: unknown }
  return of(error) ?? of(parent) ?? of(original)
}

/** Whether something failed because another change holds what it needs; then nothing of it was written. */
export const isLockConflict = (error: unknown): boolean => LOCK_ERRNOS.has(errnoOf(error) ?? 0)

/** Does something again, after a moment, while another change holds what it needs. */
export async function retryOnLockConflict<Result>(
  attempt: () => Promise<Result>,
  patienceMs = PATIENCE_MS,
): Promise<Result> {
  const give = Date.now() + patienceMs
  for (;;) {
    try {
      return await attempt()
    } catch (error) {
      if (!isLockConflict(error)) throw error
      for (const listener of listeners) listener()
      if (Date.now() > give)
        throw new Problem(
          409,
          'Being changed',
          'Another change to this is being written just now; nothing was saved. Try again in a moment.',
        )
      await new Promise((resolve) => setTimeout(resolve, PAUSE_MS))
    }
  }
}
