import type { State } from '../../database/models/ledger-entry'
import { refuseLoops } from '../conflicts/conflict-gate'
import { fieldsToPutBack, refuseOverwriting, type UndoSubject } from '../ledger/put-back'
import { Problem } from '../problem'
import { checkRule, ruleState } from './rule-state'
import { dropRule, restoreRule, rulesInOrder, writeRule } from './rules'

/** Puts a rule back as it was before an entry, or takes its making back; refused where that leads in a circle. */
export const undoRule: UndoSubject = async (db, change, entry, request) => {
  const id = entry.subjectId
  const record = (before: State | null, after: State | null, label: string) =>
    change.record({
      action: 'undo',
      subject: { kind: 'rule', id, label },
      reason: request.reason,
      before,
      after,
      undoesId: entry.id,
    })
  const rule = await db.Rule.findByPk(id, { transaction: change.transaction, lock: change.transaction.LOCK.UPDATE })
  if (entry.afterState === null) {
    if (rule) throw new Problem(409, 'Cannot be undone', 'The rule is there again already.')
    checkRule(
      entry.beforeState!,
      (await db.Domain.findByPk(entry.beforeState!.domainId as number, { transaction: change.transaction }))!,
    )
    const row = await restoreRule(db, change, id, entry.beforeState!)
    await refuseLoops(db, change, { rules: [id] })
    return record(null, ruleState(row), entry.subjectLabel)
  }
  if (!rule) throw new Problem(409, 'Cannot be undone', 'The rule was removed since; undo that first.')
  const now = ruleState(rule)
  if (entry.beforeState === null) {
    await refuseOverwriting(db, change, entry, now, request)
    await dropRule(db, change, rule)
    return record(now, null, entry.subjectLabel)
  }
  const after: State = { ...now, ...(await fieldsToPutBack(db, change, entry, now, request)) }
  checkRule(after, (await db.Domain.findByPk(rule.domainId, { transaction: change.transaction }))!)
  if (after.position !== now.position) {
    const rules = await rulesInOrder(db, change, rule.domainId)
    const order = rules.map((row) => row.id).filter((other) => other !== id)
    order.splice(Number(after.position) - 1, 0, id)
    for (const [index, other] of order.entries())
      await rules.find((row) => row.id === other)!.update({ position: index + 1 }, { transaction: change.transaction })
  }
  await writeRule(change, rule, after)
  await refuseLoops(db, change, { rules: [id] })
  return record(now, after, entry.subjectLabel)
}
