import type { Standing } from './history'

const MINUTE = 60_000
const HOUR = 60 * MINUTE
const DAY = 24 * HOUR

/** What the time of the next check depends on. */
export interface ScheduleFacts {
  standing: Standing | null
  /** Visits a day of all links that lead there. */
  visitsADay: number
  /** When the newest of those links was made or led there, in milliseconds. */
  since: number
  now: number
}

/**
 * How long after a check the next one is due, in milliseconds: an hour for what many visit, a week for what hardly
 * anyone does, soon for what is in doubt, half as long for what is new. The more visits, the sooner: at 24 a day and
 * more hourly, at one a day daily.
 */
export function intervalMs({ standing, visitsADay, since, now }: ScheduleFacts): number {
  const byVisits = Math.min(7 * DAY, Math.max(HOUR, DAY / Math.max(visitsADay, 1 / 7)))
  const usual = now - since < 7 * DAY ? Math.max(HOUR, byVisits / 2) : byVisits
  if (!standing || standing.failures === 0) return standing?.flapping ? Math.min(usual, 30 * MINUTE) : usual
  // In doubt: after ten minutes, then an hour, so that three checks lie over two hours; later ever less often.
  if (standing.confidence === 'doubtful' && standing.failures <= 4)
    return [10 * MINUTE, HOUR, HOUR, HOUR][standing.failures - 1]!
  return Math.min(usual, DAY, HOUR * 2 ** Math.min(6, standing.failures - 3))
}

/**
 * Spreads what is due over time: plus or minus a fifth, by a number in [0, 1), so that links made together part and no
 * host sees a burst.
 */
export const spread = (interval: number, chance: number): number => Math.round(interval * (0.8 + 0.4 * chance))
