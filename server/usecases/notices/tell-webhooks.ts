import { createHash } from 'node:crypto'
import { Op, type Transaction } from 'sequelize'
import type { WebhookKind } from '../../../core/notices'
import { fromJson } from '../../database/json'
import type { Database } from '../../database/open'
import type { WebhookModel } from '../../database/models/webhook'

/** A message's id: of one happening always the same, so that it is told once. */
const messageId = (mark: string) => `msg_${createHash('sha256').update(mark).digest('base64url').slice(0, 27)}`

const wants = (hook: WebhookModel, kind: WebhookKind) => fromJson<WebhookKind[]>(hook.kinds).includes(kind)

/**
 * Puts a message for every active webhook that wants to know among those to be sent; `mark` names what happened, which
 * each webhook is told once. The payload is as Standard Webhooks 1.0 has it: type, timestamp, data.
 */
export async function tellWebhooks(
  db: Database,
  kind: WebhookKind,
  mark: string,
  data: object,
  transaction: Transaction,
): Promise<void> {
  const hooks = (await db.Webhook.findAll({ where: { active: true }, transaction })).filter((hook) => wants(hook, kind))
  if (hooks.length === 0) return
  await write(db, hooks, kind, mark, new Date(), data, transaction)
}

async function write(
  db: Database,
  hooks: readonly WebhookModel[],
  kind: WebhookKind,
  mark: string,
  at: Date,
  data: object,
  transaction: Transaction,
): Promise<void> {
  const payload = JSON.stringify({ type: kind, timestamp: at.toISOString(), data })
  const now = new Date()
  await db.WebhookDelivery.bulkCreate(
    hooks.map(({ id }) => ({
      webhookId: id,
      messageId: messageId(mark),
      kind,
      payload,
      madeAt: now,
      dueAt: now,
    })),
    { ignoreDuplicates: true, transaction },
  )
}

const ENTRIES_AT_ONCE = 500

/** Tells webhooks of the ledger's entries they were not told of yet, in their order. */
export async function tellEntries(db: Database): Promise<void> {
  const hooks = (await db.Webhook.findAll({ where: { active: true } })).filter((hook) => wants(hook, 'ledger.entry'))
  for (const hook of hooks) {
    const entries = await db.LedgerEntry.findAll({
      // Not by their numbers: what takes long gets its number before others that are seen earlier.
      where: { revision: { [Op.gt]: hook.ledgerRevision } },
      order: [['revision', 'ASC']],
      limit: ENTRIES_AT_ONCE,
    })
    if (entries.length === 0) continue
    await db.sequelize.transaction(async (transaction) => {
      const [mine] = await db.Webhook.update(
        { ledgerRevision: entries.at(-1)!.revision },
        { where: { id: hook.id, ledgerRevision: hook.ledgerRevision }, transaction },
      )
      if (mine === 0) return
      for (const entry of entries)
        await write(
          db,
          [hook],
          'ledger.entry',
          `entry ${entry.id}`,
          entry.at,
          {
            id: entry.id,
            by: entry.actor,
            action: entry.action,
            subject: { kind: entry.subjectKind, id: entry.subjectId, label: entry.subjectLabel },
            reason: entry.reason,
            before: fromJson(entry.beforeState),
            after: fromJson(entry.afterState),
            undoes: entry.undoesId,
          },
          transaction,
        )
    })
  }
}
