/** Visits a day as people read them. */
export const visitsADay = (visits: number): string =>
  visits >= 10 || visits === 0 ? Math.round(visits).toLocaleString('en') : visits.toFixed(1)
