import { dayIn } from '../../../core/time/calendar-day'
import type { Database } from '../../database/open'

/** The organisation’s time zone, today by its calendar, and for how many days it keeps visits one by one. */
export async function organisationDay(db: Database): Promise<{ timeZone: string; today: string; visitDays: number }> {
  const organisation = await db.Organisation.findByPk(1, { attributes: ['timeZone', 'visitDays'] })
  const timeZone = organisation?.timeZone ?? 'UTC'
  return { timeZone, today: dayIn(timeZone, Date.now()), visitDays: organisation?.visitDays ?? 90 }
}

/** Today by the organisation’s calendar. */
export async function organisationToday(db: Database): Promise<string> {
  return (await organisationDay(db)).today
}
