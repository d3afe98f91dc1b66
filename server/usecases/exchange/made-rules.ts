import type { Transaction } from 'sequelize'
import { MAX_RULES } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { State } from '../../database/models/ledger-entry'
import { writeEntry, type Actor } from '../ledger/write-entry'
import { Problem } from '../problem'
import { ruleState } from '../rules/rule-state'
import { dropRule, restoreRule, rulesInOrder } from '../rules/rules'
import type { RuleToBe } from './judged-row'

interface Within {
  transaction: Transaction
  actor: Actor
  /** The entry these are parts of. */
  entryId: number
  /** Takes the numbers of the parts, so that each gets its revision. */
  part(id: number): void
}

async function note(
  db: Database,
  { transaction, actor, entryId, part }: Within,
  action: 'create' | 'undo',
  rule: { id: number; label: string },
  before: State | null,
  after: State | null,
): Promise<void> {
  const entry = await writeEntry(
    db,
    transaction,
    actor,
    { action, subject: { kind: 'rule', ...rule }, before, after },
    { revision: null, at: new Date() },
  )
  await entry.update({ partOf: entryId }, { transaction })
  part(entry.id)
}

/** Makes rules behind those of their domains, in the order given, as parts of an entry; gives their numbers. */
export async function makeRules(
  db: Database,
  within: Within,
  rules: readonly RuleToBe[],
  hosts: ReadonlyMap<number, string>,
): Promise<number[]> {
  const { transaction } = within
  const now = new Date()
  const made: number[] = []
  const last = new Map<number, number>()
  for (const rule of rules) {
    let position = last.get(rule.domainId)
    if (position === undefined) {
      const there = await rulesInOrder(db, within, rule.domainId)
      position = there.length
      const mine = rules.filter(({ domainId }) => domainId === rule.domainId).length
      if (position + mine > MAX_RULES)
        throw new Problem(
          409,
          'Too many rules',
          `${hosts.get(rule.domainId)} would have ${position + mine} rules; at most ${MAX_RULES} are allowed.`,
        )
    }
    last.set(rule.domainId, position + 1)
    const row = await db.Rule.create({ ...rule, position: position + 1, createdAt: now, updatedAt: now } as never, {
      transaction,
    })
    await note(
      db,
      within,
      'create',
      { id: row.id, label: `${hosts.get(rule.domainId)} ${row.pattern}` },
      null,
      ruleState(row),
    )
    made.push(row.id)
  }
  return made
}

/** Undoes the parts of an entry that tell of rules: what it made goes, what it took comes back, at its place. */
export async function undoRules(db: Database, within: Within, entryId: number): Promise<void> {
  const { transaction } = within
  const parts = await db.LedgerEntry.findAll({
    where: { partOf: entryId, subjectKind: 'rule' },
    order: [['id', 'DESC']],
    transaction,
  })
  for (const part of parts) {
    const rule = await db.Rule.findByPk(part.subjectId, { transaction, lock: transaction.LOCK.UPDATE })
    const about = { id: part.subjectId, label: part.subjectLabel }
    if (part.afterState !== null && rule) {
      const before = ruleState(rule)
      await dropRule(db, within, rule)
      await note(db, within, 'undo', about, before, null)
    } else if (part.afterState === null && !rule && part.beforeState !== null) {
      const row = await restoreRule(db, { transaction, now: new Date() }, part.subjectId, part.beforeState)
      await note(db, within, 'undo', about, null, ruleState(row))
    }
  }
}
