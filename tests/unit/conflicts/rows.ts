import type { SurveyDomain, SurveyLink, SurveyRule } from '../../../core/rows'
import { canonicalSlug } from '../../../core/address'
import { OPEN_RULES } from '../../../core/slugs'
import { domainRow, linkRow, ruleRow } from '../table/rows'

/** A domain for tests of conflicts: capitals do not matter, open slug rules. */
export const surveyDomain = (more: Partial<SurveyDomain> = {}): SurveyDomain => ({
  ...domainRow({ capitalsMatter: false }),
  slugRules: OPEN_RULES,
  ...more,
})

/** A link for tests of conflicts; its canonical slug as a domain where capitals do not matter reads it. */
export const surveyLink = (more: Partial<SurveyLink> = {}): SurveyLink => {
  const slug = more.slug ?? 'fares'
  return {
    ...linkRow({ slug }),
    canonical: canonicalSlug(slug, { capitalsMatter: /[A-Z]/.test(slug), trailingSlashMatters: false })!,
    exception: false,
    visits28: 28,
    ...more,
  }
}

export const surveyRule = (more: Partial<SurveyRule> = {}): SurveyRule => ({
  ...ruleRow({ position: more.id ?? 1, destination: 'https://r.example/' }),
  active: true,
  visits28: 0,
  ...more,
})
