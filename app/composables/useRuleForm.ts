import { RULE_FIELDS, schemasOf } from '~~/core/rows'
import { ruleCreate, rulePatch, type Domain, type Rule } from '~~/core/schemas'
import { useVersionedForm } from './useVersionedForm'

/** A rule as a form holds it; `position` is the place of a new one, 0 for last. */
export type RuleFields = Pick<Rule, keyof ReturnType<typeof editable>> & { position: number }
const editable = () => schemasOf(RULE_FIELDS)
const NAMES = Object.keys(editable()) as (keyof ReturnType<typeof editable>)[]

/** What may be changed of a rule, as the test bench and the form take it. */
export const ruleFields = (rule: Rule): Omit<RuleFields, 'position'> =>
  Object.fromEntries(NAMES.map((name) => [name, rule[name]])) as Omit<RuleFields, 'position'>

/** The fields of a rule while somebody makes or changes it. */
export function useRuleForm(domain: Domain) {
  const store = useRulesStore()
  const blank = (): RuleFields => ({
    ...(Object.fromEntries(
      NAMES.map((name) => [name, (RULE_FIELDS[name] as { fallback?: unknown }).fallback ?? '']),
    ) as Omit<RuleFields, 'position'>),
    status: domain.defaultStatus,
    position: 0,
  })
  return useVersionedForm<RuleFields, Rule>({
    name: (rule) => (rule ? `rule ${rule.id}` : `new rule ${domain.host}`),
    blank,
    fieldsOf: (rule) => ({ ...ruleFields(rule), position: 0 }),
    body: ({ position, ...fields }, making) =>
      making ? { ...fields, domain: domain.host, position: position || undefined } : fields,
    schema: { make: ruleCreate, change: rulePatch },
    save: (body, rule, version) => store.save(rule && { ...rule, version }, body),
  })
}
