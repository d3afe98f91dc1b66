import type { VisitEvent } from '../../core/visits'

/** A visit of nobody in particular to nothing in particular. */
export const A_VISIT: VisitEvent = {
  at: 0,
  domainId: 1,
  linkId: 0,
  ruleId: 0,
  kind: 'visit',
  status: 302,
  outcome: 'redirect',
  path: '',
  referrer: '',
  mended: '',
  after: '',
  page: '',
  country: '',
  language: '',
  device: '',
  system: '',
  browser: '',
  visitor: '',
}
