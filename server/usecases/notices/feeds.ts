import { createHash, randomBytes } from 'node:crypto'
import { Feed } from 'feed'
import ical from 'ical-generator'
import { DateTime } from 'luxon'
import { DATE_KINDS, type FeedAddress } from '../../../core/schemas'
import { actionWords } from '../../../core/ledger'
import type { Database } from '../../database/open'
import type { MemberModel } from '../../database/models/member'
import { listDates } from '../dates/list-dates'
import { Problem } from '../problem'
import { mailFacts, type MailContext } from './mail-context'

type Kind = FeedAddress['kind']
const PATHS: Record<Kind, string> = { calendar: 'calendar.ics', ledger: 'ledger.atom' }
const hashOf = (key: string) => createHash('sha256').update(key).digest('hex')

/** The feeds a member has addresses of; the addresses themselves were told once. */
export async function listFeeds(db: Database, member: MemberModel): Promise<{ items: FeedAddress[] }> {
  const rows = await db.FeedAddress.findAll({ where: { memberId: member.id } })
  return { items: rows.map(({ kind, madeAt }) => ({ kind, madeAt: madeAt.toISOString(), address: null })) }
}

/** Makes the secret address of a feed, told this once; the one before stops at once. */
export async function makeFeed(
  db: Database,
  context: MailContext,
  member: MemberModel,
  kind: Kind,
): Promise<FeedAddress> {
  const key = randomBytes(32).toString('base64url')
  const madeAt = new Date()
  await db.FeedAddress.upsert({ memberId: member.id, kind, hash: hashOf(key), madeAt })
  return {
    kind,
    madeAt: madeAt.toISOString(),
    address: `${context.variables.FIDES_DESK_ADDRESS}/api/v1/${PATHS[kind]}?key=${key}`,
  }
}

/** Takes the secret address of a feed away. */
export const dropFeed = async (db: Database, member: MemberModel, kind: Kind): Promise<void> => {
  await db.FeedAddress.destroy({ where: { memberId: member.id, kind } })
}

async function refuseUnknown(db: Database, kind: Kind, key: string): Promise<void> {
  const row = await db.FeedAddress.findOne({ where: { hash: hashOf(key), kind } })
  const member = row && (await db.Member.findByPk(row.memberId, { attributes: ['active'] }))
  if (!member?.active)
    throw new Problem(
      404,
      'Not found',
      'This feed does not exist: its address was replaced, or its member was removed.',
    )
}

/** A calendar tells so far back and ahead. */
const PAST_DAYS = 60
const AHEAD_DAYS = 340

/** Everything with a date, as iCalendar (RFC 5545). */
export async function readCalendar(db: Database, context: MailContext, key: string): Promise<string> {
  await refuseUnknown(db, 'calendar', key)
  const facts = await mailFacts(db, context)
  const today = DateTime.now().setZone(facts.timeZone)
  const events = await listDates(db, {
    from: today.minus({ days: PAST_DAYS }).toISODate()!,
    to: today.plus({ days: AHEAD_DAYS }).toISODate()!,
  })
  const calendar = ical({
    name: `Dates of ${facts.organisation}`,
    prodId: { company: 'Fides', product: 'Dates' },
    ttl: 3600,
  })
  const host = new URL(facts.desk).hostname
  for (const event of events)
    calendar.createEvent({
      id: `${createHash('sha256').update(event.key).digest('hex').slice(0, 32)}@${host}`,
      stamp: new Date(),
      // A day has no zone; a moment is told in UTC, which every reader turns into its own.
      start: event.at === null ? DateTime.fromISO(event.day, { zone: 'utc' }).toJSDate() : new Date(event.at),
      allDay: event.at === null,
      summary: event.title,
      description: [DATE_KINDS[event.kind], event.note].filter(Boolean).join('. '),
      url: facts.desk + event.to,
    })
  return calendar.toString()
}

const MAX_ENTRIES = 100

/** The newest entries of the ledger, as Atom (RFC 4287). */
export async function readLedgerFeed(db: Database, context: MailContext, key: string): Promise<string> {
  await refuseUnknown(db, 'ledger', key)
  const facts = await mailFacts(db, context)
  const entries = await db.LedgerEntry.findAll({
    where: { subjectKind: ['link', 'links', 'domain', 'rule', 'case', 'miss'], partOf: null },
    order: [['revision', 'DESC']],
    limit: MAX_ENTRIES,
  })
  const feed = new Feed({
    id: `${facts.desk}/ledger`,
    title: `Ledger of ${clean(facts.organisation)}`,
    link: `${facts.desk}/ledger`,
    updated: entries[0]?.at ?? new Date(0),
    generator: 'Fides',
    copyright: '',
    author: { name: clean(facts.organisation) },
  })
  for (const entry of entries) {
    const words = `${actionWords(entry.action)} ${entry.subjectLabel}`
    feed.addItem({
      id: `${facts.desk}/ledger#entry-${entry.id}`,
      title: clean(words),
      link: `${facts.desk}/ledger`,
      date: entry.at,
      author: [{ name: clean(entry.actor) }],
      description: clean([`${entry.actor}: ${words}.`, entry.reason].filter(Boolean).join(' ')),
    })
  }
  return feed.atom1()
}

/** XML 1.0 §2.2 has no place for most control characters; the feed's own markup is escaped by its maker. */
const clean = (text: string): string => text.replace(/[^\t\n\r\u0020-\ud7ff\ue000-\ufffd\u{10000}-\u{10ffff}]/gu, '')
