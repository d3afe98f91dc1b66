import ICAL from 'ical.js'
import { DateTime } from 'luxon'
import Parser from 'rss-parser'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { caseListQuery, linkDateCreate, type Link } from '../../core/schemas'
import type { MemberModel } from '../../server/database/models/member'
import { keepDateCases } from '../../server/docket/dates/keep-date-cases'
import { addLinkDate, listLinkDates, tickOffLinkDate } from '../../server/usecases/dates/link-dates'
import { listDates } from '../../server/usecases/dates/list-dates'
import { applyRemedy } from '../../server/usecases/docket/apply-remedy'
import { listCases } from '../../server/usecases/docket/list-cases'
import { readCalendar, readLedgerFeed, makeFeed, dropFeed } from '../../server/usecases/notices/feeds'
import type { MailContext } from '../../server/usecases/notices/mail-context'
import { editor, NO_NAMES, refusal, TestRegister } from './register'

let register: TestRegister
let member: MemberModel
const context = {
  variables: { FIDES_DESK_ADDRESS: 'https://desk.portansel.example' },
  secret: Buffer.alloc(32),
} as MailContext
beforeAll(async () => {
  register = await TestRegister.start()
  member = await register.db.Member.create({
    email: 'a@portansel.example',
    name: 'A',
    role: 'viewer',
    passwordHash: 'x',
    createdAt: new Date(),
  })
})
afterAll(() => register.stop())

const ZONE = 'Europe/Lisbon'
const inDays = (days: number) => DateTime.now().setZone(ZONE).plus({ days }).toISODate()!
const note = (link: Link, input: object) => addLinkDate(register.db, editor, link.id, linkDateCreate.parse(input))
const all = (from = -1, to = 60) => listDates(register.db, { from: inDays(from), to: inDays(to) })
const open = async () => (await listCases(register.db, caseListQuery.parse({ lane: 'dates' }))).items

describe('a day noted for a link', () => {
  it('comes up so many days before, and is ticked off from its case', async () => {
    const link = await register.link('museum', 'https://museum.example/')
    await note(link, { kind: 'look-again', day: inDays(20), note: 'ask the museum', remindDays: 7 })
    await keepDateCases(register.db)
    expect(await open()).toEqual([])
    await keepDateCases(register.db, new Date(Date.now() + 14 * 86_400_000))
    const [told] = await open()
    expect(told).toMatchObject({ kind: 'look-again', subject: 'ansl.example/museum' })
    expect(told!.sentence).toContain('ask the museum')
    const { case: after } = await applyRemedy(register.db, NO_NAMES, editor, told!.id, told!.version, 'tick-off', {})
    expect(after.id).toBe(told!.id)
    expect((await listLinkDates(register.db, link.id)).items).toEqual([])
    await keepDateCases(register.db, new Date(Date.now() + 14 * 86_400_000))
    expect(await open()).toEqual([])
    expect((await register.entry('date-done')).beforeState).toEqual({
      date: `${inDays(20)}, review, ask the museum`,
    })
  })
  it('is broken once the other side has ended', async () => {
    const link = await register.link('offer', 'https://shop.example/offer')
    const day = await note(link, { kind: 'ends-there', day: inDays(-1) })
    await keepDateCases(register.db)
    const [told] = await open()
    expect(told).toMatchObject({ kind: 'ends-there', severity: 'broken' })
    expect(told!.headline).toContain('ended on')
    await tickOffLinkDate(register.db, editor, link.id, day.id)
    expect(await refusal(tickOffLinkDate(register.db, editor, link.id, day.id))).toMatchObject({ status: 404 })
    await keepDateCases(register.db)
  })
  it.each([
    [{ kind: 'look-again', day: '2026-02-30' }, 'Enter a day, such as 2026-12-24.'],
    [{ kind: 'other', day: '2026-03-01' }, 'Choose'],
    [{ kind: 'look-again', day: '2026-03-01', remindDays: 400 }, 'At most 365'],
    [{ kind: 'look-again', day: '2026-03-01', note: 'a\nb' }, 'line breaks'],
  ])('is refused as %j', (input, words) => {
    expect(linkDateCreate.safeParse(input).error?.issues[0]?.message).toContain(words)
  })
})

describe('links that end together', () => {
  it('are one case, with those that leave visitors with nothing named', async () => {
    const endsAt = DateTime.now().setZone(ZONE).plus({ days: 5 }).endOf('day').toUTC().toISO()!
    const links: Link[] = []
    for (let index = 0; index < 6; index++)
      links.push(
        await register.link(`season${index}`, 'https://season.example/', {
          endsAt,
          ...(index === 0 && { endedDestination: 'https://next.example/' }),
        }),
      )
    await register.db.Link.update({ visits28: 280 }, { where: { id: links.map(({ id }) => id) } })
    await keepDateCases(register.db)
    const [told] = await open()
    expect(told).toMatchObject({ kind: 'link-ending', severity: 'broken', impact: 60 })
    expect(told!.headline).toMatch(/^6 links end on /)
    expect(told!.sentence).toContain('5 of them')
    const [event] = (await all()).filter(({ kind }) => kind === 'link-ends')
    expect(event).toMatchObject({ title: expect.stringMatching(/^6 links end, /), day: inDays(5) })
  })
})

describe('the calendar', () => {
  it('is read by another program of iCalendar (RFC 5545), whatever stands in titles', async () => {
    const hostile = 'x; y, "z" \\ END:VCALENDAR BEGIN:VEVENT 🚌'.repeat(3)
    const link = await register.link('odd-title', 'https://odd.example/', {
      title: hostile,
      startsAt: DateTime.now().plus({ days: 3 }).toUTC().toISO(),
    })
    await note(link, { kind: 'look-again', day: inDays(9), note: hostile })
    const { address } = await makeFeed(register.db, context, member, 'calendar')
    const key = new URL(address!).searchParams.get('key')!
    const text = await readCalendar(register.db, context, key)
    // Lines of at most 75 octets, ended by CRLF (§3.1).
    for (const line of text.split('\r\n')) expect(Buffer.byteLength(line)).toBeLessThanOrEqual(75)
    const calendar = new ICAL.Component(ICAL.parse(text))
    const events = calendar.getAllSubcomponents('vevent').map((one) => new ICAL.Event(one))
    expect(events).toHaveLength((await all(-60, 340)).length)
    const looks = events.find(({ summary }) => summary === 'ansl.example/odd-title: review')!
    expect(looks.description).toBe(`Review. ${hostile}`)
    expect(looks.startDate).toMatchObject({ isDate: true })
    expect(looks.startDate.toString()).toBe(inDays(9))
    const begins = events.find(({ summary }) => summary === 'ansl.example/odd-title begins')!
    expect(begins.startDate.toJSDate().toISOString().slice(0, 19)).toBe(
      new Date((await all()).find(({ kind }) => kind === 'link-begins')!.at!).toISOString().slice(0, 19),
    )
    expect(new Set(events.map(({ uid }) => uid)).size).toBe(events.length)
    // The same things have the same names the next time, so that a reader changes and does not double them.
    const again = new ICAL.Component(ICAL.parse(await readCalendar(register.db, context, key)))
    expect(again.getAllSubcomponents('vevent').map((one) => new ICAL.Event(one).uid)).toEqual(
      events.map(({ uid }) => uid),
    )
  })
  it('is not there under another key, one made anew or one of somebody who has left', async () => {
    const first = new URL((await makeFeed(register.db, context, member, 'calendar')).address!)
    const second = new URL((await makeFeed(register.db, context, member, 'calendar')).address!)
    const key = (url: URL) => url.searchParams.get('key')!
    expect(await refusal(readCalendar(register.db, context, key(first)))).toMatchObject({ status: 404 })
    expect(await refusal(readLedgerFeed(register.db, context, key(second)))).toMatchObject({ status: 404 })
    await member.update({ active: false })
    expect(await refusal(readCalendar(register.db, context, key(second)))).toMatchObject({ status: 404 })
    await member.update({ active: true })
    await dropFeed(register.db, member, 'calendar')
    expect(await refusal(readCalendar(register.db, context, key(second)))).toMatchObject({ status: 404 })
  })
})

describe('the feed of the ledger', () => {
  it('is read by another program of Atom (RFC 4287), the newest first', async () => {
    const title = '<script>alert("1")</script> & ]]> \u0000\u0008'
    const link = await register.link('fed', 'https://fed.example/')
    await register.changeLink(link, { note: title.replace(/\p{Cc}/gu, ''), reason: 'because <b>&' })
    const { address } = await makeFeed(register.db, context, member, 'ledger')
    const xml = await readLedgerFeed(register.db, context, new URL(address!).searchParams.get('key')!)
    const feed = await new Parser().parseString(xml)
    expect(feed.title).toBe('Ledger of Test Transit')
    expect(feed.items[0]).toMatchObject({ title: 'Changed ansl.example/fed' })
    expect(feed.items.length).toBe(await register.db.LedgerEntry.count())
    const dates = feed.items.map(({ isoDate }) => isoDate!)
    expect(dates).toEqual([...dates].sort().reverse())
    expect(new Set(feed.items.map(({ id }) => id as string)).size).toBe(feed.items.length)
  })
})

it('what has a date is told by its day in the organisation’s time zone', async () => {
  // 23:30 UTC of a summer's day is the next day in Lisbon.
  const at = '2027-07-01T23:30:00.000Z'
  await register.link('late', 'https://late.example/', { endsAt: at })
  const events = await listDates(register.db, { from: '2027-07-02', to: '2027-07-02' })
  expect(events).toMatchObject([{ kind: 'link-ends', day: '2027-07-02', at }])
  expect(await listDates(register.db, { from: '2027-07-01', to: '2027-07-01' })).toEqual([])
})
