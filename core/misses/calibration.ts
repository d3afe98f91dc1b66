/**
 * Figures fitted on invented slips (scripts/tune-misses.ts), another seed than any test's: how sharply costs tell links
 * apart, how much a link without visits counts, and the curve that makes shares of the posterior probabilities that
 * come true as often as they say (Platt 1999, from memory).
 */
export const FIT = {
  sharpness: 1.234,
  /** Visits in 28 days that each link is given beside those it had, so that a new one is not nothing. */
  smoothing: 7.195,
  slope: 0.869,
  intercept: 0.144,
}

/** The probability a share of the posterior stands for. */
export function calibrated(share: number): number {
  if (share <= 0) return 0
  if (share >= 1) return 1
  return 1 / (1 + Math.exp(-(FIT.slope * Math.log(share / (1 - share)) + FIT.intercept)))
}
