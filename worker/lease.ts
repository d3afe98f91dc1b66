/** How long a lease holds by itself: so long the work of a worker that was killed waits for the next. */
export const LEASE_SECONDS = 10
const RENEW_MS = 3000

/**
 * Does work under a lease and renews it as long as that lasts. Where it cannot be renewed, as when the database is
 * away, it lapses, and another worker may take the work up.
 */
export async function underLease<Result>(renew: () => Promise<unknown>, work: () => Promise<Result>): Promise<Result> {
  const timer = setInterval(() => void renew().catch(() => undefined), RENEW_MS)
  try {
    return await work()
  } finally {
    clearInterval(timer)
  }
}
