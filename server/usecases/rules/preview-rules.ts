import { ruleReach, type Survey, type SurveyChange } from '../../../core/conflicts'
import { makeMatcher, readPattern } from '../../../core/patterns'
import type { SurveyRule } from '../../../core/rows'
import type { ConflictView, RulesPreview, RulesPreviewed } from '../../../core/schemas'
import { exceptedSlugs } from '../../../core/table'
import type { Database } from '../../database/open'
import type { DomainModel } from '../../database/models/domain'
import { conflictsOf, describeAll, toConflictView } from '../conflicts/conflict-gate'
import { currentSurvey } from '../conflicts/survey'
import { findDomainNamed } from '../domains/find-domain'
import { fieldProblem, Problem } from '../problem'
import { yielder } from '../yield-to-event-loop'
import { checkRule, provePattern } from './rule-state'

/** So many patterns may be new or changed: each is proved in a process of its own. */
const MAX_CHANGED = 20
/** So many links and conflicts are named; all are counted. */
const MAX_EXAMPLES = 5
const MAX_CONFLICTS = 20

/**
 * What rules of a domain would do, in the order given: which conflicts would come or go, and what the rule in question
 * matches, hides and is hidden by. Nothing is stored. Each changed pattern is proved in a process of its own first.
 */
export async function previewRules(db: Database, input: RulesPreview): Promise<RulesPreviewed> {
  const domain = await findDomainNamed(db, input.domain)
  const survey = await currentSurvey(db)
  const rules = input.rules.map((draft, index) => toSurveyRule(survey, domain, draft, index))
  const mine = input.mine === undefined ? undefined : rules[input.mine - 1]
  const faults = await patternFaults(survey, domain, rules)
  if (faults.length > 0) return { faults, reach: null, added: [], removed: [] }
  // What leads nowhere yet is compared by its pattern alone.
  const isWhole = rules.every((rule) => isComplete(rule, domain))
  const placeholder = `https://${domain.host}/`
  const put = rules.map((rule) => (isComplete(rule, domain) ? rule : { ...rule, destination: placeholder }))
  const known = survey.state.rules
  const kept = new Set(put.map(({ id }) => id))
  const change: SurveyChange = {
    rules: put.filter((rule) => JSON.stringify(rule) !== JSON.stringify(known.get(rule.id))),
    dropRules: [...known.values()]
      .filter((rule) => rule.domainId === domain.id && !kept.has(rule.id))
      .map(({ id }) => id),
  }
  const numberOf = new Map(rules.map((rule, index) => [rule.id, index + 1]))
  const reach = mine && reachOf(survey, change, domain, mine.id, numberOf)
  const { added, removed } = isWhole ? conflictsBy(survey, change) : { added: [], removed: [] }
  return { faults, reach: reach ? { ...reach, ...(await linksOf(survey, domain, mine!)) } : null, added, removed }
}

/** A draft as the finders see it: what is not there yet has a number below zero. */
function toSurveyRule(
  { state }: Survey,
  domain: DomainModel,
  { id, status, title: _title, note: _note, ...fields }: RulesPreview['rules'][number],
  index: number,
): SurveyRule {
  const known = id === undefined ? undefined : state.rules.get(id)
  if (id !== undefined && known?.domainId !== domain.id)
    throw new Problem(409, 'Changed meanwhile', `The rules of ${domain.host} have changed meanwhile; load them again.`)
  return {
    visits28: 0,
    ...known,
    ...fields,
    id: id ?? -1 - index,
    domainId: domain.id,
    status: status ?? domain.defaultStatus,
    position: index + 1,
  } as SurveyRule
}

/** What keeps patterns that are new or changed from being proved, by their place. */
async function patternFaults(
  { state }: Survey,
  domain: DomainModel,
  rules: readonly SurveyRule[],
): Promise<RulesPreviewed['faults']> {
  const faults: RulesPreviewed['faults'] = []
  const changed = [...rules.entries()].filter(([, { id, pattern, syntax, except }]) => {
    const known = state.rules.get(id)
    return !(known?.pattern === pattern && known.syntax === syntax && known.except.join() === except.join())
  })
  if (changed.length > MAX_CHANGED)
    throw fieldProblem(
      'rules',
      `${changed.length} patterns are new or changed; at most ${MAX_CHANGED} are compared at once.`,
    )
  for (const [index, rule] of changed) {
    const reading = readPattern(rule.syntax, rule.pattern, !domain.capitalsMatter)
    const sentence = reading.ok ? await provenFault(rule, domain) : reading.sentence
    if (sentence !== undefined) faults.push({ rule: index + 1, sentence })
  }
  return faults
}

async function provenFault(rule: SurveyRule, domain: DomainModel): Promise<string | undefined> {
  try {
    await provePattern(rule, domain)
    return undefined
  } catch (error) {
    if (error instanceof Problem && error.status === 422) return error.errors[0]?.detail ?? error.message
    throw error
  }
}

/** Whether a rule could be saved as far as its pattern and destination go. */
function isComplete(rule: SurveyRule, domain: DomainModel): boolean {
  try {
    checkRule({ ...rule }, domain)
    return true
  } catch (error) {
    if (error instanceof Problem) return false
    throw error
  }
}

/** What the rule in question is left with, once the change is in place. */
function reachOf(
  survey: Survey,
  change: SurveyChange,
  domain: DomainModel,
  id: number,
  numberOf: ReadonlyMap<number, number>,
): Pick<NonNullable<RulesPreviewed['reach']>, 'before' | 'after' | 'example'> | undefined {
  const { state } = survey
  const inverse = state.putRows(change)
  try {
    const reach = ruleReach(state, domain.id, id)
    if (!reach) return undefined
    const told = (meetings: typeof reach.before) =>
      meetings.map(({ rule, whole, witness }) => ({
        rule: numberOf.get(rule)!,
        pattern: state.rules.get(rule)!.pattern,
        whole,
        witness: state.address(domain.id, witness),
      }))
    return {
      before: told(reach.before),
      after: told(reach.after),
      example: reach.example === undefined ? null : state.address(domain.id, reach.example),
    }
  } finally {
    // Others compare with these rows.
    state.putRows(inverse)
  }
}

function conflictsBy(survey: Survey, change: SurveyChange): { added: ConflictView[]; removed: ConflictView[] } {
  const diff = survey.preview(change)
  const view = (found: ReturnType<typeof conflictsOf>) =>
    found.slice(0, MAX_CONFLICTS).map((one) => toConflictView(one, survey))
  return { added: view(conflictsOf(survey, change, diff)), removed: view(describeAll(survey, diff.removed)) }
}

/** The links a rule's pattern matches, which answer before it. */
async function linksOf(
  { state }: Survey,
  domain: DomainModel,
  { syntax, pattern, except }: SurveyRule,
): Promise<{ links: number; linkExamples: string[] }> {
  const reading = readPattern(syntax, pattern, !domain.capitalsMatter)
  if (!reading.ok) return { links: 0, linkExamples: [] }
  const matcher = makeMatcher(reading.pattern, domain.trailingSlashMatters)
  const begin = reading.pattern.prefix.slice(1).replace(/\/$/, '')
  const excepted = new Set(exceptedSlugs(except, domain))
  const yieldNow = yielder()
  const examples: string[] = []
  let links = 0
  for (const canonical of state.table.domains.get(domain.id)?.links.keys() ?? []) {
    await yieldNow()
    if (!canonical.startsWith(begin) || excepted.has(canonical) || !matcher.match(canonical)) continue
    if (++links <= MAX_EXAMPLES) examples.push(state.address(domain.id, canonical))
  }
  return { links, linkExamples: examples }
}
