import { DateTime } from 'luxon'
import { Op, QueryTypes, type WhereOptions } from 'sequelize'
import { digestDue, digestMail, isTold, type NoticeSettings } from '../../../core/notices'
import type { Database } from '../../database/open'
import type { DocketCaseModel } from '../../database/models/docket-case'
import type { MemberModel } from '../../database/models/member'
import { listDates } from '../dates/list-dates'
import { mailFacts, momentIn, stopPage, type MailContext } from './mail-context'
import { settingsOf } from './notice-settings'
import { membersTold, toldCases, type NoticeCase } from './told-cases'
import { writeMail } from './write-mail'

const MAX_CASES = 5000
/** Dates of so many days to come stand in a digest. */
const DATE_DAYS = { daily: 2, weekly: 8 }
const MAX_DATES = 20

/**
 * Writes the digests that are due: to each member one for the last hour it was due at, telling what came since the one
 * before. Where there is nothing to tell, none is written, and the next one tells from here on.
 */
export async function writeDigests(db: Database, context: MailContext, now = new Date()): Promise<void> {
  if (context.variables.FIDES_SMTP_URL === undefined) return
  const facts = await mailFacts(db, context)
  const members = await membersTold(db)
  const settings = await settingsOf(db, members)
  const marks = new Map(
    (
      await db.sequelize.query<{ member_id: number; told_until: Date }>(
        'SELECT member_id, told_until FROM digest_mark',
        {
          type: QueryTypes.SELECT,
        },
      )
    ).map((row) => [Number(row.member_id), new Date(row.told_until)]),
  )
  for (const member of members) {
    const wishes = settings.get(member.id)!
    const due = digestDue(wishes, facts.timeZone, now)
    if (!due) continue
    const since = marks.get(member.id)
    if (since && since >= due) continue
    // Whoever has had none yet is told what comes from now on.
    if (since) {
      const digest = await collect(db, member, wishes, { since, now, timeZone: facts.timeZone })
      if (digest)
        await writeMail(db, {
          mark: `digest ${member.id} ${due.getTime()}`,
          member,
          kind: 'digest',
          text: digestMail(facts, { ...digest, since: momentIn(facts.timeZone, since) }, stopPage(context, member.id)),
        })
    }
    await db.sequelize.query(
      'INSERT INTO digest_mark (member_id, told_until) VALUES (?, ?) ' +
        'ON DUPLICATE KEY UPDATE told_until = VALUES(told_until)',
      { replacements: [member.id, since ? now : due] },
    )
  }
}

interface Span {
  since: Date
  now: Date
  timeZone: string
}

/** What a member's digest tells; `undefined` where that is nothing. */
async function collect(db: Database, member: MemberModel, wishes: NoticeSettings, { since, now, timeZone }: Span) {
  const names = [member.name, member.email]
  const cases = async (where: WhereOptions<DocketCaseModel>): Promise<NoticeCase[]> =>
    (
      await toldCases(
        db,
        await db.DocketCase.findAll({
          where: { ...where, remark: false, lane: wishes.lanes as string[] } as WhereOptions<DocketCaseModel>,
          order: [
            ['impact', 'DESC'],
            ['id', 'ASC'],
          ],
          limit: MAX_CASES,
        }),
      )
    ).filter((one) => isTold(wishes, names, one))
  const [open, settled] = await Promise.all([
    cases({ state: 'open' }),
    cases({ state: 'settled', settledAt: { [Op.gt]: since, [Op.lte]: now } }),
  ])
  const fresh = await db.DocketCase.findAll({
    attributes: ['id'],
    where: { id: open.map(({ id }) => id), noticedAt: { [Op.gt]: since, [Op.lte]: now } },
  })
  const isFresh = new Set(fresh.map(({ id }) => id))
  const groups = new Map<number, NoticeCase[]>()
  for (const one of open)
    if (isFresh.has(one.id)) groups.set(one.noticeId ?? -one.id, [...(groups.get(one.noticeId ?? -one.id) ?? []), one])
  const today = DateTime.fromJSDate(now, { zone: timeZone })
  const dates = wishes.lanes.includes('dates')
    ? await listDates(db, {
        from: today.toISODate()!,
        to: today.plus({ days: DATE_DAYS[wishes.digest === 'weekly' ? 'weekly' : 'daily'] }).toISODate()!,
      })
    : []
  if (groups.size === 0 && settled.length === 0 && dates.length === 0) return undefined
  const harmed = (group: readonly NoticeCase[]) => group.reduce((sum, one) => sum + one.harmed, 0)
  return {
    groups: [...groups.values()].sort((a, b) => harmed(b) - harmed(a)).map((group) => ({ cases: group })),
    settled: settled.length,
    open: open.length,
    dates: dates
      .slice(0, MAX_DATES)
      .map(
        ({ day, title, note }) => `${DateTime.fromISO(day).toFormat('ccc d LLL')}: ${title}${note ? ` (${note})` : ''}`,
      ),
  }
}
