import { Op } from 'sequelize'
import { wholeSlugRules } from '../../../core/rows'
import type { SlugRulesPut, SlugRulesReview, SlugRulesView } from '../../../core/schemas'
import { faultsOfRules } from '../../../core/slugs'
import type { Database } from '../../database/open'
import type { DomainModel } from '../../database/models/domain'
import { currentSurvey } from '../conflicts/survey'
import { findDomain } from '../domains/find-domain'
import { runChange, type Actor } from '../ledger/change'
import { versionConflict, Problem } from '../problem'
import { applySlugRules } from './apply-slug-rules'
import { effectOf, toCapacityView, toSlugRulesReview, type ReadingRules } from './slug-rules-review'
import { usualBlocked } from './usual-blocked'

const rulesOf = (domain: DomainModel): ReadingRules => ({
  ...wholeSlugRules(domain.slugRules),
  capitalsMatter: domain.capitalsMatter,
  trailingSlashMatters: domain.trailingSlashMatters,
})

/** A domain's slug rules, and how much room they leave. */
export async function readSlugRules(db: Database, id: number): Promise<SlugRulesView> {
  const domain = await findDomain(db, id)
  const survey = await currentSurvey(db)
  const rules = rulesOf(domain)
  return {
    ...rules,
    capacity: toCapacityView(rules, survey.state.table.domains.get(id)?.links.size ?? 0),
    usualBlocked: [...usualBlocked],
    version: domain.version,
  }
}

function proposedRules(input: SlugRulesPut): ReadingRules {
  const { decisions: _decisions, otherwise: _otherwise, reason: _reason, ...rules } = input
  const faults = faultsOfRules(rules)
  if (faults.length > 0)
    throw new Problem(
      422,
      'Invalid fields',
      faults.map(({ field, sentence }) => `${field}: ${sentence}`).join(' '),
      faults.map(({ field, sentence }) => ({ pointer: `/${field}`, detail: sentence })),
    )
  return rules
}

/** What other rules would break and merge on a domain, with nothing changed. */
export async function reviewSlugRules(db: Database, id: number, input: SlugRulesPut): Promise<SlugRulesReview> {
  const rules = proposedRules(input)
  await findDomain(db, id)
  const survey = await currentSurvey(db)
  return toSlugRulesReview(db, survey, id, rules, await effectOf(survey, id, rules))
}

/**
 * Changes a domain's slug rules together with what is decided about each link they do not fit, in one transaction. What
 * is left undecided refuses the whole with 409 and the review.
 */
export function changeSlugRules(
  db: Database,
  actor: Actor,
  id: number,
  version: number,
  input: SlugRulesPut,
): Promise<SlugRulesView> {
  const rules = proposedRules(input)
  return runChange(
    db,
    actor,
    async (change) => {
      const domain = await findDomain(db, id, change.transaction)
      if (domain.version !== version)
        throw versionConflict(domain.host, { ...rulesOf(domain), version: domain.version }, input)
      await applySlugRules(db, change, domain, rules, input.decisions, input.otherwise, {
        action: 'slug-rules',
        reason: input.reason,
      })
      return {
        ...rules,
        capacity: toCapacityView(
          rules,
          await db.Link.count({
            where: { domainId: id, canonical: { [Op.not]: null } },
            transaction: change.transaction,
          }),
        ),
        usualBlocked: [...usualBlocked],
        version: domain.version,
      }
    },
    { surveyed: true },
  )
}
