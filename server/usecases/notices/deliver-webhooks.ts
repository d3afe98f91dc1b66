import { QueryTypes } from 'sequelize'
import { retryAt, WEBHOOK_RETRIES } from '../../../core/notices'
import type { Database } from '../../database/open'
import type { WebhookModel } from '../../database/models/webhook'
import type { WebhookDeliveryModel } from '../../database/models/webhook-delivery'
import { askHop } from '../../targets/ask-hop'
import type { Asker } from '../../targets/asker'
import { signWebhook } from './sign-webhook'
import { secretOf } from './webhooks'

const AT_ONCE = 20
/** So long nobody else takes up a delivery that is under way; longer than a receiver may take. */
const CLAIM_SECONDS = 60
/** A webhook that took nothing for so long is rested. */
const MOST_FAILING_MS = 5 * 86_400_000
const MOST_ANSWER = 10_000

/**
 * Sends the messages that are due to their webhooks, each signed anew under its own id (Standard Webhooks 1.0). 2xx
 * takes it; 410 rests the webhook; all else is tried again later. Addresses that are not public are refused as they are
 * for checks; redirects are not followed.
 */
export async function deliverWebhooks(db: Database, sealingKey: Buffer, asker: Asker): Promise<number> {
  const due = await claim(db)
  if (due.length === 0) return 0
  const hooks = new Map((await db.Webhook.findAll()).map((hook) => [hook.id, hook]))
  await Promise.all(
    due.map(async (delivery) => {
      const hook = hooks.get(delivery.webhookId)
      if (hook) await deliver(hook, delivery, sealingKey, asker)
    }),
  )
  return due.length
}

async function claim(db: Database): Promise<WebhookDeliveryModel[]> {
  return db.sequelize.transaction(async (transaction) => {
    const rows = await db.sequelize.query<{ id: number }>(
      `SELECT d.id FROM webhook_delivery d JOIN webhook w ON w.id = d.webhook_id
       WHERE d.state = 'waiting' AND d.due_at <= UTC_TIMESTAMP(3) AND w.active
       ORDER BY d.due_at, d.id LIMIT ${AT_ONCE} FOR UPDATE SKIP LOCKED`,
      { type: QueryTypes.SELECT, transaction },
    )
    if (rows.length === 0) return []
    const ids = rows.map(({ id }) => Number(id))
    await db.sequelize.query(
      `UPDATE webhook_delivery SET tries = tries + 1, tried_at = UTC_TIMESTAMP(3),
         due_at = DATE_ADD(UTC_TIMESTAMP(3), INTERVAL ${CLAIM_SECONDS} SECOND) WHERE id IN (?)`,
      { replacements: [ids], transaction },
    )
    return db.WebhookDelivery.findAll({ where: { id: ids }, order: [['id', 'ASC']], transaction })
  })
}

async function deliver(
  hook: WebhookModel,
  delivery: WebhookDeliveryModel,
  sealingKey: Buffer,
  asker: Asker,
): Promise<void> {
  const secret = secretOf(sealingKey, hook)
  const now = new Date()
  let status: number | null = null
  let problem = ''
  let milliseconds: number | null = null
  if (!secret) problem = 'What it signs with was kept under another FIDES_SECRET; make the webhook anew.'
  else {
    const { messageId: id, payload } = delivery
    const asked = await askHop(asker, {
      url: hook.url,
      method: 'POST',
      via: 'request',
      cookies: '',
      accept: '*/*',
      mostOctets: MOST_ANSWER,
      sends: {
        body: payload,
        fields: {
          'content-type': 'application/json',
          ...signWebhook(secret, { id, timestamp: Math.floor(now.getTime() / 1000), payload }),
        },
      },
    }).catch((error: Error) => error)
    if (asked instanceof Error) problem = asked.message
    else {
      status = asked.hop.status
      milliseconds = asked.hop.milliseconds
      problem = asked.hop.status === null ? (asked.hop.fault?.text ?? 'it did not answer') : ''
    }
  }
  const taken = status !== null && status >= 200 && status < 300
  if (!taken && problem === '') problem = `It answered ${status}.`
  const again = taken ? undefined : retryAt(WEBHOOK_RETRIES, delivery.tries ?? 1, now)
  await delivery.update({
    status,
    milliseconds,
    problem: problem.slice(0, 500),
    ...(taken ? { state: 'delivered' } : again ? { dueAt: again } : { state: 'failed' }),
  })
  await note(hook, taken, status, problem, now)
}

/** Notes at the webhook how it fares. */
async function note(hook: WebhookModel, taken: boolean, status: number | null, problem: string, now: Date) {
  if (taken) {
    if (hook.failingSince) await hook.update({ failingSince: null, problem: '' })
    return
  }
  const since = hook.failingSince ?? now
  const gone = status === 410
  const rests = gone || now.getTime() - since.getTime() > MOST_FAILING_MS
  await hook.update({
    failingSince: since,
    problem: (gone
      ? 'It answered 410: it wants no more messages, and is rested.'
      : rests
        ? `It took nothing for five days, and is rested. ${problem}`
        : problem
    ).slice(0, 500),
    ...(rests && { active: false, version: (hook.version ?? 1) + 1 }),
  })
}
