import { isDeepStrictEqual } from 'node:util'
import { movedOf } from '../../../core/rows/moved'
import { modelValues, RULE_FIELDS } from '../../../core/rows'
import { MAX_RULES, type Rule, type RuleCreate, type RulePatch, type RulesReorder } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { State } from '../../database/models/ledger-entry'
import type { RuleModel } from '../../database/models/rule'
import { runChange, type Actor, type Change } from '../ledger/change'
import { acceptConflicts, refuseConflicts } from '../conflicts/conflict-gate'
import { versionConflict, Problem } from '../problem'
import { findDomainNamed } from '../domains/find-domain'
import { checkRule, findRule, provePattern, ruleState, toRuleView } from './rule-state'

/** Rules in their order, of one domain or all. */
export async function listRules(db: Database, host: string | undefined): Promise<Rule[]> {
  const where = host === undefined ? {} : { domainId: (await findDomainNamed(db, host)).id }
  const [rows, domains] = await Promise.all([
    db.Rule.findAll({
      where,
      order: [
        ['domainId', 'ASC'],
        ['position', 'ASC'],
        ['id', 'ASC'],
      ],
    }),
    db.Domain.findAll(),
  ])
  const byId = new Map(domains.map((domain) => [domain.id, domain]))
  return rows.map((row) => toRuleView(row, byId.get(row.domainId)!))
}

export async function readRule(db: Database, id: number): Promise<Rule> {
  const { rule, domain } = await findRule(db, id)
  return toRuleView(rule, domain)
}

/** The rules of a domain in their order, locked. */
export const rulesInOrder = (db: Database, change: Pick<Change, 'transaction'>, domainId: number) =>
  db.Rule.findAll({
    where: { domainId },
    order: [
      ['position', 'ASC'],
      ['id', 'ASC'],
    ],
    transaction: change.transaction,
    lock: change.transaction.LOCK.UPDATE,
  })

async function renumber(change: Pick<Change, 'transaction'>, rules: readonly RuleModel[]): Promise<void> {
  for (const [index, rule] of rules.entries())
    if (rule.position !== index + 1) await rule.update({ position: index + 1 }, { transaction: change.transaction })
}

/** Makes a rule, at a position or last. What would be in conflict is refused unless a reason says why it is wanted. */
export async function createRule(db: Database, actor: Actor, input: RuleCreate): Promise<Rule> {
  await provePattern(input, await findDomainNamed(db, input.domain))
  return runChange(db, actor, (change) => insertRule(db, change, input), { surveyed: true })
}

/** Makes a rule within a change. */
export async function insertRule(db: Database, change: Change, input: RuleCreate): Promise<Rule> {
  const domain = await findDomainNamed(db, input.domain, change.transaction)
  const { domain: _host, position, reason, ...fields } = input
  const status = input.status ?? domain.defaultStatus
  const checked = checkRule({ ...fields, status }, domain)
  await provePattern(fields, domain)
  const rules = await rulesInOrder(db, change, domain.id)
  if (rules.length >= MAX_RULES)
    throw new Problem(
      409,
      'Too many rules',
      `${domain.host} has ${rules.length} rules; at most ${MAX_RULES} are allowed.`,
    )
  const at = Math.min(position ?? rules.length + 1, rules.length + 1)
  const row = await db.Rule.create(
    {
      ...fields,
      domainId: domain.id,
      status,
      destination: checked.destination,
      position: at,
      createdAt: change.now,
      updatedAt: change.now,
    },
    { transaction: change.transaction },
  )
  await renumber(change, [...rules.slice(0, at - 1), row, ...rules.slice(at - 1)])
  const found = await refuseConflicts(db, change, { rules: [row.id] }, reason)
  await change.record({
    action: 'create',
    subject: { kind: 'rule', id: row.id, label: `${domain.host} ${row.pattern}` },
    reason,
    before: null,
    after: ruleState(row),
  })
  await acceptConflicts(db, change, found, reason)
  return toRuleView(row, domain)
}

/** Changes a rule that stands at `version`; a later version is refused with 412 and told in full. */
export async function changeRule(
  db: Database,
  actor: Actor,
  id: number,
  version: number,
  patch: RulePatch,
): Promise<Rule> {
  if (patch.pattern !== undefined || patch.except !== undefined || patch.syntax !== undefined) {
    const { rule, domain } = await findRule(db, id)
    const { syntax = rule.syntax, pattern = rule.pattern, except = rule.except } = patch
    await provePattern({ syntax, pattern, except }, domain)
  }
  return runChange(
    db,
    actor,
    async (change) => {
      const { rule, domain } = await findRule(db, id, change)
      if (rule.version !== version) throw versionConflict(`the rule “${rule.pattern}”`, toRuleView(rule, domain), patch)
      const { reason, ...fields } = patch
      const before = ruleState(rule)
      const after: State = {
        ...before,
        ...Object.fromEntries(Object.entries(fields).filter(([, value]) => value !== undefined)),
      }
      const checked = checkRule(after, domain)
      await provePattern(after as unknown as Rule, domain)
      Object.assign(after, checked)
      if (isDeepStrictEqual(before, after)) return toRuleView(rule, domain)
      await writeRule(change, rule, after)
      const found = await refuseConflicts(db, change, { rules: [id] }, reason)
      const action = before.active === after.active ? 'change' : after.active ? 'switch-on' : 'switch-off'
      await change.record({
        action,
        subject: { kind: 'rule', id, label: `${domain.host} ${rule.pattern}` },
        reason,
        before,
        after,
      })
      await acceptConflicts(db, change, found, reason)
      return toRuleView(rule, domain)
    },
    { surveyed: true },
  )
}

/** Writes a state into a rule's row; its place among the others is not touched. */
export async function writeRule(change: Change, rule: RuleModel, state: State): Promise<void> {
  const { domainId: _domainId, position: _position, ...fields } = state
  await rule.update(
    { ...modelValues(RULE_FIELDS, fields), version: rule.version + 1, updatedAt: change.now },
    { transaction: change.transaction },
  )
}

/** Takes a rule away; the ledger can give it back, with its number. */
export function removeRule(db: Database, actor: Actor, id: number, version: number): Promise<void> {
  return runChange(db, actor, async (change) => {
    const { rule, domain } = await findRule(db, id, change)
    if (rule.version !== version) throw versionConflict(`the rule “${rule.pattern}”`, toRuleView(rule, domain), null)
    await dropRule(db, change, rule)
    await change.record({
      action: 'remove',
      subject: { kind: 'rule', id, label: `${domain.host} ${rule.pattern}` },
      before: ruleState(rule),
      after: null,
    })
  })
}

/** Takes a rule out of those of its domain. */
export async function dropRule(db: Database, change: Pick<Change, 'transaction'>, rule: RuleModel): Promise<void> {
  await rule.destroy({ transaction: change.transaction })
  await renumber(change, await rulesInOrder(db, change, rule.domainId))
}

/** Gives a rule back under its old number, at the place it had. */
export async function restoreRule(
  db: Database,
  change: Pick<Change, 'transaction' | 'now'>,
  id: number,
  state: State,
): Promise<RuleModel> {
  const rules = await rulesInOrder(db, change, state.domainId as number)
  const row = await db.Rule.create(
    { ...modelValues(RULE_FIELDS, state), id, createdAt: change.now, updatedAt: change.now } as never,
    { transaction: change.transaction },
  )
  const at = Math.min(Number(state.position), rules.length + 1)
  await renumber(change, [...rules.slice(0, at - 1), row, ...rules.slice(at - 1)])
  return row
}

/**
 * Puts a domain's rules in another order. `was` is the order one started from: where another stands meanwhile, nothing
 * is changed and 412 tells it. Every rule whose place moves gets its entry in the ledger.
 */
export function reorderRules(db: Database, actor: Actor, input: RulesReorder): Promise<Rule[]> {
  return runChange(
    db,
    actor,
    async (change) => {
      const domain = await findDomainNamed(db, input.domain, change.transaction)
      const rules = await rulesInOrder(db, change, domain.id)
      const now = rules.map((rule) => rule.id)
      if (!isDeepStrictEqual(now, input.was))
        throw new Problem(
          412,
          'Changed meanwhile',
          `The rules of ${domain.host} stand in another order now; look at it, then move again.`,
          [],
          { order: now, yours: input.order },
        )
      if (
        !isDeepStrictEqual(
          [...input.order].sort((a, b) => a - b),
          [...now].sort((a, b) => a - b),
        )
      ) {
        const detail = 'Name each rule of the domain exactly once.'
        throw new Problem(422, 'Invalid field', `order: ${detail}`, [{ pointer: '/order', detail }])
      }
      await moveRules(db, change, rules, input.order, domain.host, input.reason)
      const found = await refuseConflicts(db, change, { rules: now }, input.reason)
      await acceptConflicts(db, change, found, input.reason)
      return (await rulesInOrder(db, change, domain.id)).map((rule) => toRuleView(rule, domain))
    },
    { surveyed: true },
  )
}

/** Writes an order, with one entry for each rule that was moved by hand: the least that explains it. */
export async function moveRules(
  db: Database,
  change: Change,
  rules: readonly RuleModel[],
  order: readonly number[],
  host: string,
  reason: string | undefined,
): Promise<void> {
  const byId = new Map(rules.map((rule) => [rule.id, rule]))
  const before = new Map(rules.map((rule) => [rule.id, ruleState(rule)]))
  const ordered = order.map((id) => byId.get(id)!)
  await renumber(change, ordered)
  const moved = new Set(
    movedOf(
      rules.map((rule) => rule.id),
      order,
    ),
  )
  for (const id of moved) {
    await change.record({
      action: 'move',
      subject: { kind: 'rule', id, label: `${host} ${byId.get(id)!.pattern}` },
      reason,
      before: before.get(id)!,
      after: ruleState(byId.get(id)!),
    })
  }
}
