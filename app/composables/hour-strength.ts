/** The share of cells that the scale spans: a few with very many visits do not bleach the others. */
const SHARE = 0.95
/** Only cells with so many times the visits of the usual ones are outliers. */
const OUTLIER = 1.5
/** Fewer cells than this are all taken for the scale. */
const MIN_CELLS = 20

/**
 * The number of visits from which on a cell of a heat map has the full colour: the most of the usual cells, so that an
 * outlier does not bleach all others. At least 1.
 */
export function fullStrength(visits: readonly number[]): number {
  const sorted = visits.filter((count) => count > 0).sort((a, b) => a - b)
  const at = sorted.length < MIN_CELLS ? sorted.length - 1 : Math.floor(SHARE * (sorted.length - 1))
  const [usual, most] = [sorted[at] ?? 0, sorted.at(-1) ?? 0]
  return Math.max(1, most > OUTLIER * usual ? usual : most)
}

/** How strong the colour of a cell is, from 0 to 1; one without visits is barely seen, any other is told from it. */
export const strengthOf = (count: number, full: number): number =>
  count === 0 ? 0.05 : 0.12 + 0.88 * Math.min(1, count / full)
