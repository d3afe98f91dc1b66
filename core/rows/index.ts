export { columnOf, fallbacksOf, modelValues, namesFor, rowReader, schemasOf, stateOf } from './field'
export type { ColumnType, Field, KeptOf, Reader, RowOf } from './field'
export { DECIDED_STANDINGS, LINK_FIELDS, REFERRER_POLICIES } from './link'
export type { DecidedStanding, LinkRow, LinkState, Standing, SurveyLink } from './link'
export { RULE_FIELDS } from './rule'
export type { RuleRow, RuleState, SurveyRule } from './rule'
export {
  DOMAIN_COLUMNS,
  DOMAIN_FIELDS,
  DOMAIN_STANDINGS,
  isOpenStanding,
  PRIVACY,
  toDomainRow,
  toSurveyDomain,
  wholeSlugRules,
} from './domain'
export type { DomainRow, DomainStanding, DomainState, Forgiveness, SurveyDomain } from './domain'
export { isPermanent, REDIRECT_FIELDS, REDIRECT_STATUSES, redirectStatus } from './redirect'
export type { Redirect, RedirectStatus } from './redirect'
