import { Survey } from '../../../core/conflicts'
import type { SurveyLink, SurveyRule } from '../../../core/rows'
import { surveyDomain, surveyLink, surveyRule } from './rows'

export const NOW = Date.UTC(2026, 10, 25)

/** A survey, scanned, of links and rules numbered from 1 on two domains. */
export function surveyOf(
  links: Partial<SurveyLink>[],
  rules: Partial<SurveyRule>[] = [],
  domain: Parameters<typeof surveyDomain>[0] = {},
): Survey {
  const survey = new Survey()
  survey.load(
    [surveyDomain(domain), surveyDomain({ id: 2, host: 'go.example' })],
    links.map((link, index) => surveyLink({ id: index + 1, destination: `https://${index + 1}.example/`, ...link })),
    rules.map((rule, index) => surveyRule({ id: index + 1, ...rule })),
    NOW,
  )
  survey.scanAll()
  return survey
}
/** The keys of everything found, sorted. */
export const keys = (survey: Survey) => [...survey.conflicts].map(({ key }) => key).sort()
