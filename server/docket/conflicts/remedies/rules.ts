import { servingRule } from '../../../../core/conflicts'
import type { SurveyRule } from '../../../../core/rows'
import { moveRules, rulesInOrder } from '../../../usecases/rules/rules'
import type { ComposedRemedy } from '../../remedy'
import { addressOf, applying, reasonOf, rewrite, rewriteRule, tried, viewOf, type Context } from './context'

/** Puts a rule that is never reached before the first of those that hide it. */
export function moveUp(context: Context): ComposedRemedy[] {
  const { db, survey, rules } = context
  const rule = rules[0]!
  const all = survey.state.rulesOf(rule.domainId).rules
  const before = all.find(({ id }) => rules.slice(1).some((taker) => taker.id === id))
  if (!before) return []
  const order = all.map(({ id }) => id).filter((id) => id !== rule.id)
  order.splice(order.indexOf(before.id), 0, rule.id)
  const verified = tried(context, {
    rules: order.map((id, index) => ({ ...survey.state.rules.get(id)!, position: index + 1 })),
  })
  if (!verified) return []
  return [
    {
      view: viewOf(context, {
        id: `move-${rule.id}-before-${before.id}`,
        title: `Move it up, before “${before.pattern}”`,
        sentence: `“${rule.pattern}” is asked first and takes its addresses; “${before.pattern}” takes what is left.`,
        verified,
      }),
      apply: applying(context, `Moved “${rule.pattern}” up.`, async (change, request) => {
        const rows = await rulesInOrder(db, change, rule.domainId)
        const ids = rows.map((row) => row.id).filter((id) => id !== rule.id)
        ids.splice(Math.max(0, ids.indexOf(before.id)), 0, rule.id)
        await moveRules(
          db,
          change,
          rows,
          ids,
          survey.state.domains.get(rule.domainId)!.host,
          request.reason || reasonOf(context),
        )
        return { rules: ids }
      }),
    },
  ]
}

export function switchOff(context: Context, rule: SurveyRule): ComposedRemedy[] {
  const verified = tried(context, { rules: [{ ...rule, active: false }] })
  if (!verified) return []
  return [
    {
      view: viewOf(context, {
        id: `switch-off-${rule.id}`,
        title: `Switch “${rule.pattern}” off`,
        sentence: 'The rule is kept but matches nothing until you switch it on again.',
        verified,
        visitsKept: 0,
      }),
      apply: applying(context, `Switched “${rule.pattern}” off.`, (change, request) =>
        rewriteRule(context, change, rule, { active: false }, 'switch-off', request),
      ),
    },
  ]
}

const MAX_EXCEPTED = 200

/** Has a rule leave the addresses alone that links of their own have. */
export function narrow(context: Context): ComposedRemedy[] {
  const { conflict, links, rules } = context
  const rule = rules[0]!
  if ((conflict.count ?? 0) > links.length) return []
  const except = [...new Set([...rule.except, ...links.map((link) => link.slug)])]
  if (except.length > MAX_EXCEPTED) return []
  const verified = tried(context, { rules: [{ ...rule, except }] })
  if (!verified) return []
  return [
    {
      view: viewOf(context, {
        id: `narrow-${rule.id}-${links.map(({ id }) => id).join('-')}`,
        title:
          links.length === 1
            ? 'Exclude this link from the rule'
            : `Narrow the rule to leave these ${links.length} links out`,
        sentence:
          `“${rule.pattern}” leaves ` +
          `${links.length === 1 ? addressOf(context, links[0]!) : 'their addresses'} alone, also should the ` +
          `${links.length === 1 ? 'link' : 'links'} end. Nothing changes for visitors today.`,
        verified,
      }),
      apply: applying(
        context,
        `“${rule.pattern}” leaves ${links.length === 1 ? 'it' : 'them'} alone.`,
        (change, request) => rewriteRule(context, change, rule, { except }, 'change', request),
      ),
    },
  ]
}

/** Gives the only link of a family that leads elsewhere the destination its rule has for it. */
export async function giveRulesDestination(context: Context): Promise<ComposedRemedy[]> {
  const { survey, links } = context
  const link = links[0]!
  const serving = servingRule(survey.state, link.domainId, link.canonical!)
  if (links.length !== 1 || !serving) return []
  const destination = serving.location
  const verified = tried(context, { links: [{ ...link, destination }] })
  if (!verified) return []
  return [
    {
      view: viewOf(context, {
        id: `rule-destination-${link.id}`,
        title: 'Use the rule’s destination for the link',
        sentence:
          `${addressOf(context, link)} leads to ${destination} from then on, as the rule would have it; what ` +
          `it leads to now, ${link.destination}, is left.`,
        verified,
      }),
      apply: applying(context, `${addressOf(context, link)} leads to ${destination}.`, (change, request) =>
        rewrite(context, change, link, { destination }, 'change-destination', request),
      ),
    },
  ]
}
