const SECOND = 1000
const MINUTE = 60 * SECOND
const HOUR = 60 * MINUTE

/** How long after each failed try a webhook is tried again (Standard Webhooks, “Deliverability and reliability”). */
export const WEBHOOK_RETRIES = [
  5 * SECOND,
  5 * MINUTE,
  30 * MINUTE,
  2 * HOUR,
  5 * HOUR,
  10 * HOUR,
  14 * HOUR,
  20 * HOUR,
  24 * HOUR,
] as const

/** The same for mail: a server that is away for a day loses none (RFC 5321 §4.5.4.1). */
export const MAIL_RETRIES = [MINUTE, 5 * MINUTE, 30 * MINUTE, 2 * HOUR, 6 * HOUR, 12 * HOUR, 24 * HOUR] as const

/** When something that failed for the `tries`th time is tried again; `undefined` where it is given up. */
export const retryAt = (waits: readonly number[], tries: number, now: Date): Date | undefined => {
  const wait = waits[tries - 1]
  return wait === undefined ? undefined : new Date(now.getTime() + wait)
}
