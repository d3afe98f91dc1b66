import { DateTime } from 'luxon'
import { reportMail } from '../../../core/notices'
import { trafficQuery } from '../../../core/schemas'
import type { Database } from '../../database/open'
import { answerTraffic } from '../traffic/answer-traffic'
import { findMovers } from '../traffic/find-movers'
import type { VisitStore } from '../traffic/visit-store'
import { mailFacts, stopPage, type MailContext } from './mail-context'
import { settingsOf } from './notice-settings'
import { membersTold } from './told-cases'
import { writeMail } from './write-mail'

/** The report of a week comes on Monday from this hour on. */
const HOUR = 7
const MAX_LINKS = 10
const REFERRERS: Record<string, string> = {
  none: 'typed, scanned or not told',
  internal: 'our own pages',
  search: 'search engines',
  social: 'social networks',
  mail: 'mail',
  chat: 'chat',
  other: 'other websites',
}

/**
 * Writes the report of the week that is over to each member who wishes it, once. Who has it already gets none again,
 * whenever this is done.
 */
export async function writeReports(store: VisitStore, context: MailContext, now = new Date()): Promise<void> {
  const { db } = store
  if (context.variables.FIDES_SMTP_URL === undefined) return
  const facts = await mailFacts(db, context)
  const today = DateTime.fromJSDate(now, { zone: facts.timeZone })
  const monday = today.startOf('week')
  if (today < monday.plus({ hours: HOUR })) return
  const wanted = await waiting(db, monday)
  if (wanted.length === 0) return
  const report = await weekReport(store, monday.minus({ weeks: 1 }), now)
  for (const member of wanted)
    await writeMail(db, {
      mark: markOf(member.id, monday),
      member,
      kind: 'report',
      text: reportMail(facts, report, stopPage(context, member.id)),
    })
}

const markOf = (id: number, monday: DateTime) => `report ${id} ${monday.toISODate()}`

/** Members who wish the report and have none of this Monday yet. */
async function waiting(db: Database, monday: DateTime) {
  const members = await membersTold(db)
  const settings = await settingsOf(db, members)
  const wishing = members.filter(({ id }) => settings.get(id)!.report)
  const written = new Set(
    (await db.Mail.findAll({ attributes: ['mark'], where: { mark: wishing.map(({ id }) => markOf(id, monday)) } })).map(
      ({ mark }) => mark,
    ),
  )
  return wishing.filter(({ id }) => !written.has(markOf(id, monday)))
}

/** The figures of a week that begins at a moment. */
export async function weekReport(store: VisitStore, from: DateTime, now: Date) {
  const to = from.plus({ weeks: 1 })
  const ask = (by: string, limit: number) =>
    answerTraffic(
      store,
      trafficQuery.parse({ from: from.toISO(), to: to.toISO(), by, compare: 'before', limit, step: 'day' }),
      { now: now.getTime() },
    )
  const [links, referrers, movers] = [
    await ask('link', MAX_LINKS + 1),
    await ask('referrer-kind', 10),
    await findMovers(store, 90, { now: now.getTime() }),
  ]
  const last = to.minus({ days: 1 })
  const isSince = (day: string) => day >= from.toISODate()!
  return {
    week: `${from.toFormat(from.month === last.month ? 'd' : 'd LLLL')} to ${last.toFormat('d LLLL yyyy')}`,
    visits: links.total,
    people: links.people,
    before: links.compared!.total,
    links: links.rows
      .filter(({ key, visits }) => key !== '0' && visits > 0)
      .slice(0, MAX_LINKS)
      .map(({ label, title, visits, before }) => ({
        name: title ? `${title} (${label})` : label,
        visits,
        before: before ?? 0,
      })),
    referrers: referrers.rows
      .filter(({ visits }) => visits > 0)
      .map(({ key, visits }) => ({ name: REFERRERS[key] ?? key, visits })),
    movers: movers.items
      .filter(({ since }) => isSince(since))
      .map(
        ({ title, address, since, before, after }) =>
          `${title || address}: ${after.toFixed(after < 10 ? 1 : 0)} a day since ` +
          `${DateTime.fromISO(since).toFormat('d LLLL')}, ${before.toFixed(before < 10 ? 1 : 0)} before`,
      ),
    to: `/traffic?period=own&from=${from.toISODate()}&to=${last.toISODate()}`,
  }
}
