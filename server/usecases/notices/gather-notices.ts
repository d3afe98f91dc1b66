import { literal, Op, QueryTypes, Transaction } from 'sequelize'
import { caseMail, causeOf, quietUntil, wantsAtOnce, isTold } from '../../../core/notices'
import type { Database } from '../../database/open'
import { retryOnLockConflict } from '../ledger/lock-conflicts'
import { mailFacts, stopPage, type MailContext } from './mail-context'
import { settingsOf } from './notice-settings'
import { membersTold, toldCases, type NoticeCase } from './told-cases'
import { tellWebhooks } from './tell-webhooks'
import { writeMail } from './write-mail'

/** Cases of one cause that open within so long belong to one notice. */
const ONE_NOTICE_MS = 24 * 3_600_000
const AT_ONCE = 2000
/** Cases that nobody was told of since they opened or came back. */
const UNNOTICED = 'COALESCE(reopened_at, opened_at) > COALESCE(noticed_at, FROM_UNIXTIME(0))'

/**
 * Puts cases that opened or came back into notices, one for each cause, and writes the mails about those that harm
 * many: one to a member for each cause, however many cases it has. Cases wait until their cause has had time to show.
 * Whatever is cut short is done again and comes to the same.
 */
export async function gatherNotices(db: Database, context: MailContext): Promise<void> {
  const now = new Date()
  const before = new Date(now.getTime() - context.variables.FIDES_NOTICE_SECONDS * 1000)
  const rows = await db.DocketCase.findAll({
    where: {
      state: 'open',
      remark: false,
      [Op.and]: [
        literal(UNNOTICED),
        { openedAt: { [Op.lte]: before } },
        { reopenedAt: { [Op.or]: [null, { [Op.lte]: before }] } },
      ],
    },
    order: [['id', 'ASC']],
    limit: AT_ONCE,
  })
  if (rows.length > 0) {
    const causes = new Map<string, NoticeCase[]>()
    for (const one of await toldCases(db, rows)) {
      const cause = causeOf(one)
      causes.set(cause, [...(causes.get(cause) ?? []), one])
    }
    for (const [cause, cases] of causes) await retryOnLockConflict(() => takeInto(db, cause, cases, now))
  }
  await tellSettled(db)
  // Those that were cut short are written by `writeNoticeMails`, which looks again now and then.
  if (rows.length > 0) await writeNoticeMails(db, context, now)
}

async function takeInto(db: Database, cause: string, found: readonly NoticeCase[], now: Date): Promise<void> {
  // Without gaps locked, so that those who keep cases need not wait.
  const isolationLevel = Transaction.ISOLATION_LEVELS.READ_COMMITTED
  await db.sequelize.transaction({ isolationLevel }, async (transaction) => {
    await db.sequelize.query('SELECT id FROM notice_turn WHERE id = 1 FOR UPDATE', {
      type: QueryTypes.SELECT,
      transaction,
    })
    const left = await db.sequelize.query<{ id: number }>(
      `SELECT id FROM docket_case WHERE id IN (?) AND ${UNNOTICED} ORDER BY id FOR UPDATE`,
      { replacements: [found.map(({ id }) => id)], type: QueryTypes.SELECT, transaction },
    )
    const mine = new Set(left.map(({ id }) => Number(id)))
    const cases = found.filter(({ id }) => mine.has(id))
    if (cases.length === 0) return
    const [known] = await db.sequelize.query<{ id: number }>(
      'SELECT id FROM notice WHERE cause = ? AND seen_at > ? ORDER BY id DESC LIMIT 1',
      { replacements: [cause, new Date(now.getTime() - ONE_NOTICE_MS)], type: QueryTypes.SELECT, transaction },
    )
    let id = Number(known?.id ?? 0)
    if (id === 0) {
      const [made] = await db.sequelize.query(
        'INSERT INTO notice (cause, lane, opened_at, seen_at) VALUES (?, ?, ?, ?)',
        { replacements: [cause, cases[0]!.lane, now, now], type: QueryTypes.INSERT, transaction },
      )
      id = Number(made)
    } else
      await db.sequelize.query('UPDATE notice SET seen_at = ? WHERE id = ?', { replacements: [now, id], transaction })
    await db.DocketCase.update(
      { noticeId: id, noticedAt: now, settlingTold: false },
      { where: { id: cases.map((one) => one.id) }, transaction },
    )
    await tellWebhooks(
      db,
      'case.opened',
      `notice ${id} ${now.getTime()}`,
      {
        cause,
        cases: cases.slice(0, 100).map(({ id: caseId, lane, kind, severity, headline, sentence, harmed }) => ({
          id: caseId,
          lane,
          kind,
          severity,
          headline,
          sentence,
          visitsHarmedADay: Math.round(harmed * 100) / 100,
        })),
        count: cases.length,
      },
      transaction,
    )
  })
}

/** Tells webhooks of cases that were settled after they had been told of. */
async function tellSettled(db: Database): Promise<void> {
  const rows = await db.DocketCase.findAll({
    where: { state: 'settled', settlingTold: false },
    order: [['id', 'ASC']],
    limit: AT_ONCE,
  })
  for (const row of rows)
    await db.sequelize.transaction(async (transaction) => {
      const [mine] = await db.DocketCase.update(
        { settlingTold: true },
        { where: { id: row.id, settlingTold: false, version: row.version }, transaction },
      )
      if (mine === 0) return
      await tellWebhooks(
        db,
        'case.settled',
        `case ${row.id} ${row.settledAt?.getTime() ?? 0}`,
        { id: row.id, lane: row.lane, kind: row.kind, headline: row.headline, settledBy: row.settledBy ?? 'itself' },
        transaction,
      )
    })
}

/** Writes the mails of notices of the last day whose cases harm enough, also where they came to do so since. */
export async function writeNoticeMails(db: Database, context: MailContext, now = new Date()): Promise<void> {
  if (context.variables.FIDES_SMTP_URL === undefined) return
  const rows = await db.DocketCase.findAll({
    where: { state: 'open', remark: false, noticedAt: { [Op.gt]: new Date(now.getTime() - ONE_NOTICE_MS) } },
    order: [
      ['impact', 'DESC'],
      ['id', 'ASC'],
    ],
    limit: AT_ONCE,
  })
  if (rows.length === 0) return
  const notices = new Map<number, NoticeCase[]>()
  for (const one of await toldCases(db, rows))
    if (one.noticeId !== null) notices.set(one.noticeId, [...(notices.get(one.noticeId) ?? []), one])
  const members = await membersTold(db)
  const settings = await settingsOf(db, members)
  const facts = await mailFacts(db, context)
  for (const member of members) {
    const wishes = settings.get(member.id)!
    const names = [member.name, member.email]
    for (const [id, cases] of notices) {
      if (!wantsAtOnce(wishes, names, cases)) continue
      await writeMail(db, {
        mark: `notice ${id} ${member.id}`,
        member,
        kind: 'at-once',
        text: caseMail(
          facts,
          cases.filter((one) => isTold({ ...wishes, minVisits: 0 }, names, one)),
          stopPage(context, member.id),
        ),
        noticeId: id,
        dueAt: quietUntil(wishes, facts.timeZone, now),
      })
    }
  }
}
