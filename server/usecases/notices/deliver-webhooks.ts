import { setTimeout as pause } from 'node:timers/promises'
import { QueryTypes } from 'sequelize'
import { retryAt, WEBHOOK_RETRIES } from '../../../core/notices'
import { makeLog } from '../../../environment/log'
import type { Database } from '../../database/open'
import type { WebhookModel } from '../../database/models/webhook'
import type { WebhookDeliveryModel } from '../../database/models/webhook-delivery'
import { askHop } from '../../targets/ask-hop'
import type { Asker } from '../../targets/asker'
import { signWebhook } from './sign-webhook'
import { secretOf } from './webhooks'

const log = makeLog('worker')

const AT_ONCE = 20
/** Deliveries are waited for this long before the next are taken up, in milliseconds. */
const PATIENCE_MS = 2000
/** So long nobody else takes up a delivery that is under way; longer than a receiver may take. */
const CLAIM_SECONDS = 60
/** A webhook that took nothing for so long is rested. */
const MAX_FAILING_MS = 5 * 86_400_000
const MAX_ANSWER = 10_000

/**
 * Sends the messages that are due to their webhooks, each signed anew under its own id (Standard Webhooks 1.0). 2xx
 * takes it; 410 rests the webhook; all else is tried again later. Addresses that are not public are refused as they are
 * for checks; redirects are not followed.
 */
export async function deliverWebhooks(
  db: Database,
  sealingKey: Buffer,
  asker: Asker,
  patienceMs = PATIENCE_MS,
): Promise<number> {
  const slow = slowOf(db)
  const due = await claim(db, [...slow.keys()])
  if (due.length === 0) return 0
  const hooks = new Map((await db.Webhook.findAll()).map((hook) => [hook.id, hook]))
  const all = due.map(async (delivery) => {
    const hook = hooks.get(delivery.webhookId)
    if (!hook) return
    const end = begins(slow, hook.id)
    try {
      await deliver(db, hook, delivery, sealingKey, asker)
    } catch (error) {
      // Its claim lapses, and it is sent again.
      log.error(error, 'A message could not be delivered')
    } finally {
      end()
    }
  })
  // A receiver that takes long holds nobody else up: it is waited for beside the next ones.
  await Promise.race([Promise.all(all), pause(patienceMs)])
  return due.length
}

/** How many deliveries to each webhook this process waits for, by database. */
const waiting = new WeakMap<Database, Map<number, number>>()

function slowOf(db: Database): Map<number, number> {
  let slow = waiting.get(db)
  if (!slow) waiting.set(db, (slow = new Map()))
  return slow
}

function begins(slow: Map<number, number>, hook: number): () => void {
  slow.set(hook, (slow.get(hook) ?? 0) + 1)
  return () => {
    const left = slow.get(hook)! - 1
    if (left === 0) slow.delete(hook)
    else slow.set(hook, left)
  }
}

/** Claims deliveries that are due, those to webhooks that are still waited for excepted. */
async function claim(db: Database, busy: readonly number[]): Promise<WebhookDeliveryModel[]> {
  return db.sequelize.transaction(async (transaction) => {
    const rows = await db.sequelize.query<{ id: number }>(
      `SELECT d.id FROM webhook_delivery d JOIN webhook w ON w.id = d.webhook_id
       WHERE d.state = 'waiting' AND d.due_at <= UTC_TIMESTAMP(3) AND w.active AND d.webhook_id NOT IN (:busy)
       ORDER BY d.due_at, d.id LIMIT ${AT_ONCE} FOR UPDATE SKIP LOCKED`,
      { replacements: { busy: [0, ...busy] }, type: QueryTypes.SELECT, transaction },
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
  db: Database,
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
  if (!secret) problem = 'Its signing secret was stored under another FIDES_SECRET. Create the webhook again.'
  else {
    const { messageId: id, payload } = delivery
    const asked = await askHop(asker, {
      url: hook.url,
      method: 'POST',
      via: 'request',
      cookies: '',
      accept: '*/*',
      mostOctets: MAX_ANSWER,
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
  await note(db, hook, taken, status, problem, now)
}

/** Notes at the webhook how it fares; one that was changed since the message was sent is judged by the next message. */
async function note(
  db: Database,
  hook: WebhookModel,
  taken: boolean,
  status: number | null,
  problem: string,
  now: Date,
): Promise<void> {
  const update = (values: Partial<WebhookModel>) =>
    db.Webhook.update(values, { where: { id: hook.id, version: hook.version! } })
  if (taken) {
    if (hook.failingSince) await update({ failingSince: null, problem: '' })
    return
  }
  const since = hook.failingSince ?? now
  const gone = status === 410
  const rests = gone || now.getTime() - since.getTime() > MAX_FAILING_MS
  await update({
    failingSince: since,
    problem: (gone
      ? 'The receiver answered 410 (Gone). Webhook disabled.'
      : rests
        ? `No successful delivery for 5 days. Webhook disabled. ${problem}`
        : problem
    ).slice(0, 500),
    ...(rests && { active: false, version: (hook.version ?? 1) + 1 }),
  })
}
