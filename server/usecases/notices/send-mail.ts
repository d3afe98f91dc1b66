import { createHash } from 'node:crypto'
import { QueryTypes } from 'sequelize'
import { MAIL_RETRIES, retryAt } from '../../../core/notices'
import type { Database } from '../../database/open'
import type { MailModel } from '../../database/models/mail'
import type { MailTransport } from '../../mail/transport'
import { stopKey, type MailContext } from './mail-context'

const AT_ONCE = 20
/** So long nobody else takes up a mail that is being sent. */
const CLAIM_SECONDS = 120

/**
 * Sends the mails that are due, one after the other. Any number of workers may do so at once. A mail whose cases were
 * all settled while it waited is dropped; one that the server cannot take now is tried again later, and one it refuses
 * for good is not. Each has a Message-ID of its own that stays, so that one sent twice is seen as one.
 */
export async function sendMails(db: Database, context: MailContext, transport: MailTransport): Promise<number> {
  let sent = 0
  for (const mail of await claim(db)) {
    if (mail.kind === 'at-once' && (await isOver(db, mail))) {
      await mail.update({ state: 'dropped', problem: 'Settled before it was sent.' })
      continue
    }
    try {
      const stop = stopKey(context, mail.memberId ?? 0)
      await transport.send({
        to: { name: mail.recipientName, address: mail.recipient },
        subject: mail.subject,
        text: mail.text,
        html: mail.html,
        messageId: `<${createHash('sha256').update(mail.mark).digest('hex').slice(0, 40)}@fides>`,
        date: mail.madeAt,
        stop:
          mail.kind === 'at-once' || mail.kind === 'digest'
            ? `${context.variables.FIDES_DESK_ADDRESS}/api/v1/stop-mails?key=${stop}`
            : undefined,
      })
      await mail.update({ state: 'sent', sentAt: new Date(), problem: '' })
      sent++
    } catch (error) {
      const { responseCode, message } = error as Error & { responseCode?: number }
      // RFC 5321 §4.2.1: 5yz is refused for good, but where signing in failed, which somebody will mend.
      const forGood = responseCode !== undefined && responseCode >= 500 && responseCode !== 530 && responseCode !== 535
      const again = forGood ? undefined : retryAt(MAIL_RETRIES, mail.tries, new Date())
      await mail.update({
        problem: message.slice(0, 500),
        ...(again ? { dueAt: again } : { state: 'failed' }),
      })
    }
  }
  return sent
}

async function claim(db: Database): Promise<MailModel[]> {
  return db.sequelize.transaction(async (transaction) => {
    const rows = await db.sequelize.query<{ id: number }>(
      `SELECT id FROM mail WHERE state = 'waiting' AND due_at <= UTC_TIMESTAMP(3) ORDER BY due_at, id
       LIMIT ${AT_ONCE} FOR UPDATE SKIP LOCKED`,
      { type: QueryTypes.SELECT, transaction },
    )
    if (rows.length === 0) return []
    const ids = rows.map(({ id }) => Number(id))
    await db.sequelize.query(
      `UPDATE mail SET tries = tries + 1, due_at = DATE_ADD(UTC_TIMESTAMP(3), INTERVAL ${CLAIM_SECONDS} SECOND)
       WHERE id IN (?)`,
      { replacements: [ids], transaction },
    )
    return db.Mail.findAll({ where: { id: ids }, order: [['id', 'ASC']], transaction })
  })
}

/** Whether nothing a mail tells of stands open any more. */
async function isOver(db: Database, { noticeId }: MailModel): Promise<boolean> {
  return noticeId != null && (await db.DocketCase.count({ where: { noticeId, state: 'open' } })) === 0
}
