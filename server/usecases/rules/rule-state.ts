import { LRUCache } from 'lru-cache'
import { DESTINATION_REFUSALS, readDestination } from '../../../core/address'
import { conditionVaries, type Condition } from '../../../core/conditions'
import { isPermanent, RULE_FIELDS, stateOf } from '../../../core/rows'
import { exceptedSlugs } from '../../../core/table'
import { readPattern, readTemplate } from '../../../core/patterns'
import type { Rule } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { DomainModel } from '../../database/models/domain'
import type { State } from '../../database/models/ledger-entry'
import type { RuleModel } from '../../database/models/rule'
import { inChild } from '../../threads/in-child'
import type { Change } from '../ledger/change'
import { fieldProblem, notFound } from '../problem'

/** What the ledger keeps of a rule: all that can be put back. */
export const ruleState = (rule: RuleModel): State => stateOf(RULE_FIELDS, rule)

/** A rule as the API tells it; `position` counts from 1. */
export function toRuleView(rule: RuleModel, domain: DomainModel): Rule {
  const reading = readPattern(rule.syntax, rule.pattern, !domain.capitalsMatter)
  const { domainId: _domainId, ...state } = ruleState(rule)
  return {
    ...(state as unknown as Rule),
    id: rule.id,
    domain: domain.host,
    visits28: rule.visits28,
    version: rule.version,
    createdAt: rule.createdAt.toISOString(),
    updatedAt: rule.updatedAt.toISOString(),
    captures: reading.ok ? [...reading.pattern.captures.keys()] : [],
  }
}

/** A rule with its domain; 404 where there is none. Under a change its row is locked. */
export async function findRule(
  db: Database,
  id: number,
  change?: Change,
): Promise<{ rule: RuleModel; domain: DomainModel }> {
  const rule = await db.Rule.findByPk(
    id,
    change && { transaction: change.transaction, lock: change.transaction.LOCK.UPDATE },
  )
  if (!rule) throw notFound('rule')
  return { rule, domain: (await db.Domain.findByPk(rule.domainId, { transaction: change?.transaction }))! }
}

/**
 * Refuses a pattern that cannot be read, and a destination that does not fit it or that no link could have. Gives the
 * destination as kept.
 */
export function checkRule(state: State, domain: DomainModel): { destination: string } {
  const reading = readPattern(state.syntax as Rule['syntax'], state.pattern as string, !domain.capitalsMatter)
  if (!reading.ok) throw fieldProblem('pattern', reading.sentence)
  if (isPermanent(state.status as number) && conditionVaries(state.condition as Condition))
    throw fieldProblem(
      'status',
      'A rule with a condition answers each visitor separately, so it cannot be permanent. Choose 302, 303 or 307.',
    )
  const template = readTemplate(state.destination as string, reading.pattern.captures)
  if (!template.ok) throw fieldProblem('destination', template.sentence)
  // With the captures put in it must be an address like any other.
  const literals = template.template.literals
  const example = literals.map((text, at) => text + (at < literals.length - 1 ? 'x' : '')).join('')
  const destination = readDestination(example, domain.appSchemes)
  if (!destination.ok) throw fieldProblem('destination', DESTINATION_REFUSALS[destination.reason])
  return { destination: literals.length > 1 ? (state.destination as string) : destination.destination }
}

/** What was proved lately: a change proves its pattern before it takes the lock, and asks again under it. */
const proved = new LRUCache<string, { fault: string | undefined }>({ max: 500 })

/** Refuses a pattern that cannot be proved apart from others, or takes no address. */
export async function provePattern(
  state: Pick<Rule, 'syntax' | 'pattern' | 'except'>,
  domain: DomainModel,
): Promise<void> {
  const given = {
    syntax: state.syntax,
    pattern: state.pattern,
    except: exceptedSlugs(state.except, domain),
    sameness: { capitalsMatter: domain.capitalsMatter, trailingSlashMatters: domain.trailingSlashMatters },
  }
  const key = JSON.stringify(given)
  const known = proved.get(key)
  const fault = known
    ? known.fault
    : await inChild('judge-pattern', given, {
        what: 'Proving this pattern apart from others',
        instead: 'Write it more plainly, or as several rules.',
      })
  proved.set(key, { fault })
  if (fault) throw fieldProblem('pattern', fault)
}
