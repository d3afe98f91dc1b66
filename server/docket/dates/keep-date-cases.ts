import { DateTime } from 'luxon'
import { QueryTypes } from 'sequelize'
import { showHost } from '../../../core/address'
import type { Database } from '../../database/open'
import { DAYS } from '../../usecases/links/listed-views'
import { organisationDay } from '../../usecases/misses/organisation-day'
import { caseKey, reconcileCases, type Finding } from '../keeper'

/** The end of a link comes up so many days before. */
const LEAD_DAYS = 14

const KINDS = ['link-ending', 'look-again', 'ends-there'] as const

/** Keeps the cases of dates: links that end soon although people use them, and days that were noted. */
export async function keepDateCases(db: Database, now = new Date()): Promise<void> {
  const { timeZone } = await organisationDay(db)
  const found = [...(await endings(db, timeZone, now)), ...(await noted(db, timeZone, now))]
  const there = await db.DocketCase.findAll({ where: { lane: 'dates', kind: [...KINDS] } })
  if (found.length === 0 && there.every(({ state }) => state === 'settled')) return
  await reconcileCases(db, found, { there, now })
}

const perDay = (visits: number) => Math.round((visits / DAYS) * 100) / 100

/** Links of a domain that end at one moment are one case: a season ends for all of them. */
async function endings(db: Database, timeZone: string, now: Date): Promise<Finding[]> {
  const until = new Date(now.getTime() + LEAD_DAYS * 86_400_000)
  const rows = await db.sequelize.query<{
    id: number
    domain_id: number
    host: string
    slug: string
    ends_at: Date
    visits_28: number
    goes_on: number
  }>(
    `SELECT l.id, l.domain_id, d.host, l.slug, l.ends_at, l.visits_28,
       l.ended_destination IS NOT NULL OR d.ended_destination IS NOT NULL AS goes_on
     FROM link l JOIN domain d ON d.id = l.domain_id
     WHERE l.ends_at > :now AND l.ends_at <= :until AND l.standing = 'live' AND l.forwards_to IS NULL
       AND l.visits_28 > 0
     ORDER BY l.visits_28 DESC, l.id`,
    { replacements: { now, until }, type: QueryTypes.SELECT },
  )
  const groups = new Map<string, (typeof rows)[number][]>()
  for (const row of rows) {
    const key = `${row.domain_id} ${new Date(row.ends_at).toISOString()}`
    groups.set(key, [...(groups.get(key) ?? []), row])
  }
  return [...groups].map(([key, group]): Finding => {
    const [first] = group as [(typeof rows)[number]]
    const at = new Date(first.ends_at)
    const moment = DateTime.fromJSDate(at, { zone: timeZone }).toFormat('ccc d LLL yyyy, HH:mm')
    const visits = group.reduce((sum, row) => sum + Number(row.visits_28), 0)
    const lost = group.filter(({ goes_on }) => !Number(goes_on))
    const address = `${showHost(first.host)}/${first.slug}`
    const what = group.length === 1 ? address : `${group.length.toLocaleString('en')} links`
    const whose = group.length === 1 ? 'it' : lost.length === group.length ? 'all of them' : `${lost.length} of them`
    const then =
      lost.length === 0
        ? 'Then visitors are sent on to where ended links lead.'
        : `Then visitors of ${whose} get a page that says it has ended.`
    return {
      kind: 'link-ending',
      key: caseKey({ kind: 'link-ending', domainId: first.domain_id, linkId: null, subject: key }),
      domainId: Number(first.domain_id),
      linkId: group.length === 1 ? Number(first.id) : null,
      links: group.map(({ id }) => Number(id)),
      subject: group.length === 1 ? address : `${address} and ${(group.length - 1).toLocaleString('en')} more`,
      severity: lost.length > 0 ? 'broken' : 'doubtful',
      headline: `${what} ${group.length === 1 ? 'ends' : 'end'} on ${moment.slice(0, -7)}`,
      sentence: `About ${Math.round(perDay(visits)).toLocaleString('en')} visits a day go there now. ${then}`,
      evidence: group.slice(0, 10).map((row) => ({
        label: `${showHost(row.host)}/${row.slug}`,
        text: `ends ${moment}; ${perDay(Number(row.visits_28))} visits a day`,
        state: Number(row.goes_on) ? 'doubtful' : 'broken',
      })),
      impact: perDay(visits),
      harmAt: at,
      print: null,
      conflict: null,
    }
  })
}

async function noted(db: Database, timeZone: string, now: Date): Promise<Finding[]> {
  const today = DateTime.fromJSDate(now, { zone: timeZone }).toISODate()!
  const rows = await db.sequelize.query<{
    id: number
    link_id: number
    domain_id: number
    host: string
    slug: string
    kind: 'look-again' | 'ends-there'
    day: string
    note: string
    made_by: string
    visits_28: number
  }>(
    `SELECT n.id, n.link_id, l.domain_id, d.host, l.slug, n.kind, DATE_FORMAT(n.day, '%Y-%m-%d') AS day, n.note,
       n.made_by, l.visits_28
     FROM link_date n JOIN link l ON l.id = n.link_id JOIN domain d ON d.id = l.domain_id
     WHERE n.done_at IS NULL AND DATE_SUB(n.day, INTERVAL n.remind_days DAY) <= :today ORDER BY n.day, n.id`,
    { replacements: { today }, type: QueryTypes.SELECT },
  )
  return rows.map((row): Finding => {
    const address = `${showHost(row.host)}/${row.slug}`
    const day = DateTime.fromISO(row.day, { zone: timeZone })
    const words = day.toFormat('ccc d LLL yyyy')
    const over = row.day < today
    const ends = row.kind === 'ends-there'
    return {
      kind: row.kind,
      key: caseKey({ kind: row.kind, domainId: null, linkId: null, subject: `day ${row.id}` }),
      domainId: Number(row.domain_id),
      linkId: Number(row.link_id),
      links: [Number(row.link_id)],
      subject: address,
      severity: ends && over ? 'broken' : 'doubtful',
      headline: ends
        ? `Destination of ${address} ${over ? 'ended' : 'ends'} on ${words}`
        : `Review ${address}, ${over ? 'due since' : 'by'} ${words}`,
      sentence: [
        `${row.made_by} noted this day.`,
        row.note && `“${row.note}”.`,
        `About ${Math.round(perDay(Number(row.visits_28))).toLocaleString('en')} visits a day go there.`,
      ]
        .filter(Boolean)
        .join(' '),
      evidence: [{ label: 'Day', text: `${words}${row.note ? `: ${row.note}` : ''}`, state: 'doubtful' }],
      impact: perDay(Number(row.visits_28)),
      harmAt: day.toJSDate(),
      print: null,
      conflict: null,
    }
  })
}
