import { randomUUID } from 'node:crypto'
import { defaultSettings, trialMail, type NoticeSettings } from '../../../core/notices'
import type { MailView, NoticeSettingsPatch, NoticeSettingsView } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { MemberModel } from '../../database/models/member'
import { fromJson } from '../../database/json'
import { Problem } from '../problem'
import { mailFacts, memberOfStopKey, type MailContext } from './mail-context'
import { writeMail } from './write-mail'

type Told = Pick<MemberModel, 'id' | 'role'>

/** What members are told, by their numbers; who never said is told what fits the role. */
export async function settingsOf(
  db: Database,
  members: readonly Told[],
): Promise<Map<number, NoticeSettings & { version: number }>> {
  const rows = await db.NoticeSetting.findAll({ where: { memberId: members.map(({ id }) => id) } })
  const kept = new Map(rows.map((row) => [row.memberId, row]))
  return new Map(
    members.map(({ id, role }): [number, NoticeSettings & { version: number }] => {
      const row = kept.get(id)
      if (!row) return [id, { ...defaultSettings(role), version: 0 }]
      const { memberId: _id, ...settings } = row.get({ plain: true })
      return [
        id,
        {
          ...settings,
          lanes: fromJson<NoticeSettings['lanes']>(row.lanes),
          onlyMine: Boolean(row.onlyMine),
          atOnce: Boolean(row.atOnce),
          quiet: Boolean(row.quiet),
          report: Boolean(row.report),
        },
      ]
    }),
  )
}

/** What one member is told. */
export async function readNoticeSettings(
  db: Database,
  { variables }: MailContext,
  member: MemberModel,
): Promise<NoticeSettingsView> {
  const { lanes, ...settings } = (await settingsOf(db, [member])).get(member.id)!
  return { ...settings, lanes: [...lanes], email: member.email, sends: variables.FIDES_SMTP_URL !== undefined }
}

/** Changes what one member is told; refused where it was changed since it was read. */
export async function changeNoticeSettings(
  db: Database,
  context: MailContext,
  member: MemberModel,
  version: number,
  patch: NoticeSettingsPatch,
): Promise<NoticeSettingsView> {
  await db.sequelize.transaction(async (transaction) => {
    await db.Member.findByPk(member.id, { transaction, lock: transaction.LOCK.UPDATE })
    const { version: now, ...settings } = (await settingsOf(db, [member])).get(member.id)!
    if (now !== version)
      throw new Problem(
        412,
        'Changed meanwhile',
        'Your notification settings have changed since you opened them. Reload and try again.',
      )
    const { lanes, ...rest } = { ...settings, ...patch }
    await db.NoticeSetting.upsert(
      { memberId: member.id, ...rest, lanes: [...new Set(lanes)], version: now + 1 },
      { transaction },
    )
  })
  return readNoticeSettings(db, context, member)
}

/** Stops all mails of cases to a member, by the key its mails carry. */
export async function stopMails(db: Database, { secret }: MailContext, key: string): Promise<void> {
  const id = memberOfStopKey(secret, key)
  const member = id === undefined ? null : await db.Member.findByPk(id)
  if (!member) throw new Problem(403, 'Invalid link', 'Invalid unsubscribe link; it may be incomplete.')
  const { version, lanes, ...settings } = (await settingsOf(db, [member])).get(member.id)!
  await db.NoticeSetting.upsert({
    memberId: member.id,
    ...settings,
    lanes: [...lanes],
    digest: 'none',
    atOnce: false,
    report: false,
    version: version + 1,
  })
  await db.Mail.update(
    { state: 'dropped', problem: 'Stopped by its receiver.' },
    { where: { memberId: member.id, state: 'waiting', kind: ['at-once', 'digest', 'report'] } },
  )
}

/** Sends a member a mail to see whether mails arrive. */
export async function sendTrial(db: Database, context: MailContext, member: MemberModel): Promise<void> {
  if (context.variables.FIDES_SMTP_URL === undefined)
    throw new Problem(
      409,
      'No mail is sent',
      'This installation sends no e-mail. The operator can set a mail server in FIDES_SMTP_URL.',
    )
  const text = trialMail(await mailFacts(db, context))
  await writeMail(db, { mark: `trial ${randomUUID()}`, member, kind: 'trial', text })
}

const MAX_MAILS = 30
const iso = (date: Date | null | undefined) => date?.toISOString() ?? null

/** The mails a member was sent of late, or will be. */
export async function listMails(db: Database, member: MemberModel): Promise<{ items: MailView[] }> {
  const rows = await db.Mail.findAll({ where: { memberId: member.id }, order: [['id', 'DESC']], limit: MAX_MAILS })
  return {
    items: rows.map((row) => ({
      id: row.id,
      kind: row.kind,
      subject: row.subject,
      state: row.state,
      madeAt: row.madeAt.toISOString(),
      dueAt: row.dueAt.toISOString(),
      sentAt: iso(row.sentAt),
      problem: row.problem,
    })),
  }
}

const MAIL_DAYS = 90

/** Forgets mails of long ago, and deliveries. */
export async function forgetMails(db: Database): Promise<void> {
  for (const table of ['mail', 'webhook_delivery'])
    await db.sequelize.query(
      `DELETE FROM ${table} WHERE made_at < DATE_SUB(UTC_TIMESTAMP(3), INTERVAL ${MAIL_DAYS} DAY)
         AND state <> 'waiting'`,
    )
  await db.sequelize.query('DELETE FROM notice WHERE seen_at < DATE_SUB(UTC_TIMESTAMP(3), INTERVAL 400 DAY)')
}
