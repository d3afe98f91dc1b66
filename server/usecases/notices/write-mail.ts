import type { Transaction } from 'sequelize'
import type { MailText } from '../../../core/notices'
import type { Database } from '../../database/open'
import type { MailModel } from '../../database/models/mail'

export interface NewMail {
  /** What it is about: of one mark only one is ever written. */
  mark: string
  member: { id: number; email: string; name: string }
  kind: MailModel['kind']
  text: MailText
  noticeId?: number
  dueAt?: Date
}

/** Puts a mail among those to be sent; one of its mark that is there already stays the only one. */
export async function writeMail(
  db: Database,
  { mark, member, kind, text, noticeId, dueAt }: NewMail,
  transaction?: Transaction,
): Promise<void> {
  const now = new Date()
  await db.Mail.bulkCreate(
    [
      {
        mark,
        memberId: member.id,
        recipient: member.email,
        recipientName: member.name,
        kind,
        ...text,
        noticeId: noticeId ?? null,
        madeAt: now,
        dueAt: dueAt ?? now,
      },
    ],
    { ignoreDuplicates: true, transaction },
  )
}
