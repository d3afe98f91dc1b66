const YEARS = 5

/**
 * What a registration costs over five years: the first year's price once, the yearly price for the rest. `undefined`
 * where one of them is not known: the first year alone misleads.
 */
export function fiveYearTotal(firstYear: number | null, yearly: number | null): number | undefined {
  if (firstYear === null || yearly === null) return undefined
  return Math.round((firstYear + yearly * (YEARS - 1)) * 100) / 100
}
