/** How demand goes: by the last seven days against the three weeks before. */
export type Trend = 'new' | 'rising' | 'steady' | 'falling' | 'over'

const RECENT = 7

/**
 * The trend of daily counts, oldest first, the last one today. Rising and falling are told only where chance does not
 * explain the difference: the recent week's count against what its share of the whole would be, by more than two
 * standard deviations of a Poisson count (handbook statistics).
 */
export function trendOf(days: readonly number[]): Trend {
  const recent = days.slice(-RECENT).reduce((sum, count) => sum + count, 0)
  const before = days.slice(0, -RECENT).reduce((sum, count) => sum + count, 0)
  const all = recent + before
  if (all === 0 || recent === 0) return 'over'
  if (before === 0) return 'new'
  const expected = (all * RECENT) / days.length
  const apart = (recent - expected) / Math.sqrt(expected)
  return apart > 2 ? 'rising' : apart < -2 ? 'falling' : 'steady'
}
