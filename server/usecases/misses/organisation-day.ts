import type { Database } from '../../database/open'

/** The calendar day of a moment in a time zone, as YYYY-MM-DD. */
export const dayIn = (timeZone: string, moment: Date): string =>
  new Intl.DateTimeFormat('en-CA', { timeZone }).format(moment)

/** The organisation’s time zone, and today by its calendar. */
export async function organisationDay(db: Database): Promise<{ timeZone: string; today: string }> {
  const organisation = await db.Organisation.findByPk(1, { attributes: ['timeZone'] })
  const timeZone = organisation?.timeZone ?? 'UTC'
  return { timeZone, today: dayIn(timeZone, new Date()) }
}

/** Today by the organisation’s calendar. */
export async function organisationToday(db: Database): Promise<string> {
  return (await organisationDay(db)).today
}
