import { randomBytes, randomUUID } from 'node:crypto'
import { isIP } from 'node:net'
import { Op, type Transaction } from 'sequelize'
import type { z } from 'zod'
import type { DeliveryView, deliveriesQuery, WebhookCreate, webhookPatch, WebhookView } from '../../../core/schemas'
import { fromJson } from '../../database/json'
import type { Database } from '../../database/open'
import type { WebhookModel } from '../../database/models/webhook'
import type { WebhookDeliveryModel } from '../../database/models/webhook-delivery'
import { seal, unseal } from '../../seal'
import { runChange, type Actor } from '../ledger/change'
import type { NamesContext } from '../../names/context'
import { fieldProblem, notFound, Problem } from '../problem'

/** An installation that tells more addresses than these is better served by one that tells on. */
const MAX_WEBHOOKS = 50
const SECRET_OCTETS = 32
const iso = (date: Date | null | undefined) => date?.toISOString() ?? null

const toView = (row: WebhookModel): WebhookView => ({
  id: row.id,
  url: row.url,
  kinds: fromJson<string[]>(row.kinds),
  active: Boolean(row.active),
  madeBy: row.madeBy,
  madeAt: row.madeAt.toISOString(),
  failingSince: iso(row.failingSince),
  problem: row.problem ?? '',
  version: row.version ?? 1,
})

const about = (id: number) => `webhook ${id}`

/** The octets a webhook's messages are signed with; `undefined` where FIDES_SECRET is another one than it was. */
export const secretOf = (sealingKey: Buffer, row: WebhookModel): Buffer | undefined =>
  unseal(sealingKey, row.secretSealed, about(row.id))

export const listWebhooks = async (db: Database): Promise<{ items: WebhookView[] }> => ({
  items: (await db.Webhook.findAll({ order: [['id', 'ASC']] })).map(toView),
})

const revisionOf = async (db: Database, entry: number, transaction: Transaction): Promise<number> =>
  (await db.LedgerEntry.findByPk(entry, { attributes: ['revision'], transaction }))!.revision

const subjectOf = (row: WebhookModel) => ({ kind: 'organisation' as const, id: 1, label: row.url.slice(0, 500) })

/** Refuses a host that can be no other than one of ours; what a name leads to is judged whenever it is told. */
function refuseOwnAddress(url: string, mayAsk: NamesContext['mayAsk']): void {
  const { hostname, port, protocol } = new URL(url)
  const host = hostname.replace(/^\[|\]$/g, '').replace(/\.$/, '')
  const isAddress = isIP(host) !== 0
  const isHere = /(?:^|\.)localhost$/.test(host)
  if (isHere || (isAddress && !mayAsk(host, Number(port) || (protocol === 'https:' ? 443 : 80))))
    throw fieldProblem('url', `${hostname} is not a public address; give the address of a program on the internet.`)
}

/** Makes a webhook; what its messages are signed with is told this once. It is told of what happens from now on. */
export function addWebhook(
  db: Database,
  { sealingKey, mayAsk }: Pick<NamesContext, 'sealingKey' | 'mayAsk'>,
  actor: Actor,
  { url, kinds }: WebhookCreate,
): Promise<WebhookView & { secret: string }> {
  refuseOwnAddress(url, mayAsk)
  return runChange(db, actor, async (change) => {
    const { transaction } = change
    if ((await db.Webhook.count({ transaction })) >= MAX_WEBHOOKS)
      throw new Problem(409, 'Too many webhooks', `There can be at most ${MAX_WEBHOOKS} webhooks; take one away first.`)
    const secret = randomBytes(SECRET_OCTETS)
    const row = await db.Webhook.create(
      {
        url,
        kinds,
        secretSealed: Buffer.alloc(1),
        madeBy: actor.name.slice(0, 160),
        madeAt: change.now,
        ledgerRevision: 0,
      },
      { transaction },
    )
    const entry = await change.record({
      action: 'webhook-add',
      subject: subjectOf(row),
      before: null,
      after: { url, kinds },
    })
    await row.update(
      {
        secretSealed: seal(sealingKey, secret, about(row.id)),
        ledgerRevision: await revisionOf(db, entry, transaction),
      },
      { transaction },
    )
    return { ...toView(row), secret: `whsec_${secret.toString('base64')}` }
  })
}

/** Changes what a webhook is told, or rests it; one that is woken begins with what happens from then on. */
export function changeWebhook(
  db: Database,
  actor: Actor,
  id: number,
  version: number,
  patch: z.output<typeof webhookPatch>,
): Promise<WebhookView> {
  return runChange(db, actor, async (change) => {
    const { transaction } = change
    const row = await db.Webhook.findByPk(id, { transaction, lock: transaction.LOCK.UPDATE })
    if (!row) throw notFound('webhook')
    if (row.version !== version)
      throw new Problem(412, 'Changed meanwhile', 'The webhook was changed since you read it; look again.')
    const before = { kinds: fromJson<string[]>(row.kinds), active: Boolean(row.active) }
    const after = { ...before, ...patch }
    const entry = await change.record({ action: 'webhook-change', subject: subjectOf(row), before, after })
    const fresh = { ledgerRevision: await revisionOf(db, entry, transaction) }
    await row.update(
      {
        ...patch,
        version: version + 1,
        ...(patch.active && !before.active && { failingSince: null, problem: '', ...fresh }),
        ...(patch.kinds && !before.kinds.includes('ledger.entry') && fresh),
      },
      { transaction },
    )
    return toView(row)
  })
}

/** Takes a webhook away, with the log of what it was told. */
export function removeWebhook(db: Database, actor: Actor, id: number): Promise<void> {
  return runChange(db, actor, async (change) => {
    const row = await db.Webhook.findByPk(id, { transaction: change.transaction })
    if (!row) throw notFound('webhook')
    await change.record({
      action: 'webhook-remove',
      subject: subjectOf(row),
      before: { url: row.url, kinds: fromJson(row.kinds) },
      after: null,
    })
    await row.destroy({ transaction: change.transaction })
  })
}

const toDelivery = (row: WebhookDeliveryModel): DeliveryView => ({
  id: row.id,
  messageId: row.messageId,
  kind: row.kind,
  state: row.state,
  madeAt: row.madeAt.toISOString(),
  dueAt: row.dueAt.toISOString(),
  tries: row.tries ?? 0,
  triedAt: iso(row.triedAt),
  status: row.status ?? null,
  milliseconds: row.milliseconds ?? null,
  problem: row.problem ?? '',
  payload: row.payload,
})

/** What a webhook was sent, or will be, the newest first. */
export async function listDeliveries(
  db: Database,
  id: number,
  { cursor, limit }: z.output<typeof deliveriesQuery>,
): Promise<{ items: DeliveryView[]; next: string | null }> {
  if (!(await db.Webhook.findByPk(id))) throw notFound('webhook')
  const rows = await db.WebhookDelivery.findAll({
    where: { webhookId: id, ...(cursor !== undefined && { id: { [Op.lt]: Number(cursor) } }) },
    order: [['id', 'DESC']],
    limit: limit + 1,
  })
  return { items: rows.slice(0, limit).map(toDelivery), next: rows.length > limit ? String(rows[limit - 1]!.id) : null }
}

/** Has a message delivered again, under its own id, at once. */
export async function redeliver(db: Database, id: number, number: number): Promise<DeliveryView> {
  const row = await db.WebhookDelivery.findOne({ where: { id: number, webhookId: id } })
  if (!row) throw notFound('delivery')
  await row.update({ state: 'waiting', dueAt: new Date(), tries: 0, problem: '' })
  return toDelivery(row)
}

/** Sends a webhook a message to see whether it arrives. */
export async function tryWebhook(db: Database, id: number): Promise<DeliveryView> {
  const hook = await db.Webhook.findByPk(id)
  if (!hook) throw notFound('webhook')
  const now = new Date()
  const row = await db.WebhookDelivery.create({
    webhookId: id,
    messageId: `msg_${randomUUID().replaceAll('-', '')}`,
    kind: 'trial',
    payload: JSON.stringify({ type: 'trial', timestamp: now.toISOString(), data: {} }),
    madeAt: now,
    dueAt: now,
  })
  return toDelivery(row)
}
