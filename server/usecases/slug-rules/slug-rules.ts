import { Op } from 'sequelize'
import { wholeSlugRules } from '../../../core/rows'
import type { SlugRulesPut, SlugRulesReview, SlugRulesTold } from '../../../core/schemas'
import { faultsOfRules } from '../../../core/slugs'
import type { Database } from '../../database/open'
import type { DomainModel } from '../../database/models/domain'
import { currentSurvey } from '../conflicts/survey'
import { findDomain } from '../domains/find-domain'
import { change, type Actor } from '../ledger/change'
import { changedMeanwhile, Problem } from '../problem'
import { applySlugRules } from './apply-slug-rules'
import { effectOf, tellCapacity, tellEffect, type ReadingRules } from './slug-rules-review'
import { usualBlocked } from './usual-blocked'

const rulesOf = (domain: DomainModel): ReadingRules => ({
  ...wholeSlugRules(domain.slugRules),
  capitalsMatter: domain.capitalsMatter,
  trailingSlashMatters: domain.trailingSlashMatters,
})

/** A domain's slug rules, and how much room they leave. */
export async function readSlugRules(db: Database, id: number): Promise<SlugRulesTold> {
  const domain = await findDomain(db, id)
  const survey = await currentSurvey(db)
  const rules = rulesOf(domain)
  return {
    ...rules,
    capacity: tellCapacity(rules, survey.state.table.domains.get(id)?.links.size ?? 0),
    usualBlocked: [...usualBlocked],
    version: domain.version,
  }
}

function proposedRules(given: SlugRulesPut): ReadingRules {
  const { decisions: _decisions, otherwise: _otherwise, reason: _reason, ...rules } = given
  const faults = faultsOfRules(rules)
  if (faults.length > 0)
    throw new Problem(
      422,
      'Fields cannot be as given',
      faults.map(({ field, sentence }) => `${field}: ${sentence}`).join(' '),
      faults.map(({ field, sentence }) => ({ pointer: `/${field}`, detail: sentence })),
    )
  return rules
}

/** What other rules would break and merge on a domain, with nothing changed. */
export async function reviewSlugRules(db: Database, id: number, given: SlugRulesPut): Promise<SlugRulesReview> {
  const rules = proposedRules(given)
  await findDomain(db, id)
  const survey = await currentSurvey(db)
  return tellEffect(db, survey, id, rules, await effectOf(survey, id, rules))
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
  given: SlugRulesPut,
): Promise<SlugRulesTold> {
  const rules = proposedRules(given)
  return change(
    db,
    actor,
    async (under) => {
      const domain = await findDomain(db, id, under.transaction)
      if (domain.version !== version)
        throw changedMeanwhile(domain.host, { ...rulesOf(domain), version: domain.version }, given)
      await applySlugRules(db, under, domain, rules, given.decisions, given.otherwise, {
        action: 'slug-rules',
        reason: given.reason,
      })
      return {
        ...rules,
        capacity: tellCapacity(
          rules,
          await db.Link.count({
            where: { domainId: id, canonical: { [Op.not]: null } },
            transaction: under.transaction,
          }),
        ),
        usualBlocked: [...usualBlocked],
        version: domain.version,
      }
    },
    { surveyed: true },
  )
}
