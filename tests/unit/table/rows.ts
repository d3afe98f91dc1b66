import { compile, UNFORGIVING, type Table } from '../../../core/table'
import type { DomainRow, LinkRow, RuleRow } from '../../../core/rows'

/** A domain row for tests: open, with the standard's defaults. */
export const domainRow = (more: Partial<DomainRow> = {}): DomainRow => ({
  id: 1,
  host: 'ansl.example',
  open: true,
  capitalsMatter: true,
  trailingSlashMatters: false,
  permanenceSeconds: 86_400,
  rootDestination: null,
  notFoundDestination: null,
  endedDestination: null,
  forgiveness: UNFORGIVING,
  pages: {},
  httpsOnly: false,
  hstsSeconds: null,
  issuerShutOut: false,
  ...more,
})

/** A link row for tests: live, temporary, its slug canonical as typed. */
export const linkRow = (more: Partial<LinkRow> = {}): LinkRow => ({
  id: 1,
  domainId: 1,
  slug: 'fares',
  canonical: more.slug ?? 'fares',
  destination: 'https://www.example/fares',
  status: 302,
  query: 'discard',
  queryConflict: 'destination',
  standing: 'live',
  startsAt: null,
  endsAt: null,
  resumesAt: null,
  endedDestination: null,
  robots: null,
  referrerPolicy: null,
  forwardsTo: null,
  unlisted: false,
  ...more,
})

/** A rule row for tests: a path pattern, temporary, whatever the query. */
export const ruleRow = (more: Partial<RuleRow> = {}): RuleRow => ({
  id: 1,
  domainId: 1,
  position: 1,
  syntax: 'path',
  pattern: '/stop/:id',
  destination: 'https://live.example/{id}',
  status: 302,
  query: 'discard',
  queryConflict: 'destination',
  condition: [],
  except: [],
  ...more,
})

/** A table of one domain and these links, ids counted up. */
export const tableOf = (links: Partial<LinkRow>[], domain: Partial<DomainRow> = {}): Table =>
  compile(
    [domainRow(domain)],
    links.map((link, index) => linkRow({ id: index + 1, ...link })),
    1,
  )
