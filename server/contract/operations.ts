import { z } from 'zod'
import * as schema from '../../core/schemas'
import { MOST_ZONE_OCTETS } from '../usecases/domain-zone'
import { MOST_LOG_OCTETS } from '../usecases/old-paths'
import { operation } from './operation'

const page = <Item extends z.ZodType>(item: Item) => z.object({ items: z.array(item), next: z.string().nullable() })
const list = <Item extends z.ZodType>(item: Item) => z.object({ items: z.array(item) })

/** Every operation of the API, by name. */
export const operations = {
  signIn: operation({ method: 'POST', path: '/session', summary: 'Sign in with e-mail address and password; sets the session cookie.', role: 'stranger', body: schema.signIn, answer: schema.session, status: 200 }),
  readSession: operation({ method: 'GET', path: '/session', summary: 'Who is signed in.', role: 'viewer', answer: schema.session, status: 200 }),
  signOut: operation({ method: 'DELETE', path: '/session', summary: 'Sign out.', role: 'stranger', status: 204 }),
  setUp: operation({ method: 'POST', path: '/setup', summary: 'Make the organisation and its first administrator with the one-time ticket.', role: 'stranger', body: schema.setup, answer: schema.session, status: 201 }),
  readHealth: operation({ method: 'GET', path: '/health', summary: 'One status per process and for the database.', role: 'stranger', answer: z.looseObject({ status: z.string() }), status: 200 }),
  listDomains: operation({ method: 'GET', path: '/domains', summary: 'All domains.', role: 'viewer', answer: list(schema.domain), status: 200 }),
  createDomain: operation({ method: 'POST', path: '/domains', summary: 'Add a domain.', role: 'administrator', body: schema.domainCreate, answer: schema.domain, status: 201 }),
  readDomain: operation({ method: 'GET', path: '/domains/{id}', summary: 'One domain.', role: 'viewer', answer: schema.domain, status: 200 }),
  changeDomain: operation({ method: 'PATCH', path: '/domains/{id}', summary: 'Change a domain.', role: 'administrator', body: schema.domainPatch, answer: schema.domain, status: 200, ifMatch: true }),
  previewDomain: operation({ method: 'POST', path: '/domains/preview', summary: 'What a name is today, and what bringing it here would take away.', role: 'administrator', body: schema.previewRequest, answer: schema.preview, status: 200 }),
  openDomain: operation({ method: 'POST', path: '/domains/{id}/open', summary: 'Open a domain for its links; tells how many go live.', role: 'administrator', body: schema.domainOpen, answer: schema.domainOpened, status: 200 }),
  checkDomain: operation({ method: 'POST', path: '/domains/{id}/check', summary: 'Have every name server and resolver asked at once.', role: 'editor', status: 204 }),
  putZone: operation({ method: 'PUT', path: '/domains/{id}/zone', summary: 'Bring the zone as a master file.', role: 'administrator', text: { types: ['text/dns', 'text/plain'], most: MOST_ZONE_OCTETS }, answer: schema.zoneTold, status: 200 }),
  transferZone: operation({ method: 'POST', path: '/domains/{id}/zone/transfer', summary: 'Take the zone from a name server (AXFR).', role: 'administrator', body: schema.transferRequest, answer: schema.zoneTold, status: 200 }),
  askForZone: operation({ method: 'POST', path: '/domains/{id}/zone/ask', summary: 'Ask the name servers for what can be seen of the zone.', role: 'administrator', answer: schema.zoneTold, status: 200 }),
  zoneBefore: operation({ method: 'GET', path: '/domains/{id}/zone/before', summary: 'The zone as it was brought.', role: 'viewer', answers: 'text/dns', status: 200 }),
  zoneAfter: operation({ method: 'GET', path: '/domains/{id}/zone/after', summary: 'The zone with the whole plan in it.', role: 'viewer', answers: 'text/dns', status: 200 }),
  lookUp: operation({ method: 'POST', path: '/domains/{id}/zone/lookup', summary: 'What a question is answered with before and after the change.', role: 'viewer', body: schema.lookupRequest, answer: schema.lookupTold, status: 200 }),
  readPlan: operation({ method: 'GET', path: '/domains/{id}/plan', summary: 'The switch plan: ordered steps, and the records to place.', role: 'viewer', answer: schema.plan, status: 200 }),
  push: operation({ method: 'POST', path: '/domains/{id}/push', summary: 'Place records of the plan by dynamic update.', role: 'administrator', body: schema.pushRequest, answer: schema.pushTold, status: 200 }),
  setUpdateKey: operation({ method: 'PUT', path: '/domains/{id}/key', summary: 'Keep the key (TSIG) for dynamic updates, encrypted.', role: 'administrator', body: schema.updateKeyPut, answer: schema.updateKey, status: 200 }),
  removeUpdateKey: operation({ method: 'DELETE', path: '/domains/{id}/key', summary: 'Forget the key for dynamic updates.', role: 'administrator', status: 204 }),
  readObservations: operation({ method: 'GET', path: '/domains/{id}/observations', summary: 'What each name server and resolver was last seen to say.', role: 'viewer', answer: schema.observations, status: 200 }),
  readForecast: operation({ method: 'GET', path: '/domains/{id}/forecast', summary: 'When everyone will see the new records.', role: 'viewer', answer: schema.forecastTold, status: 200 }),
  readCertificate: operation({ method: 'GET', path: '/domains/{id}/certificate', summary: 'Which names need a certificate, what CAA allows, and what is served now.', role: 'viewer', answer: schema.certificateTold, status: 200 }),
  readOldPaths: operation({ method: 'POST', path: '/domains/{id}/old-paths', summary: 'The paths of an old website’s access log, as links to be.', role: 'editor', query: schema.oldPathsQuery, text: { types: ['text/plain'], most: MOST_LOG_OCTETS }, answer: schema.oldPaths, status: 200 }),
  listCases: operation({ method: 'GET', path: '/cases', summary: 'Cases of a state, by lane, those that affect most visits first.', role: 'viewer', query: schema.caseListQuery, answer: schema.caseList, status: 200 }),
  readCase: operation({ method: 'GET', path: '/cases/{id}', summary: 'One case, with its remedies verified now.', role: 'viewer', answer: schema.docketCase, status: 200 }),
  changeCase: operation({ method: 'PATCH', path: '/cases/{id}', summary: 'Set a case aside, or take it back up.', role: 'editor', body: schema.casePatch, answer: schema.docketCase, status: 200, ifMatch: true }),
  applyRemedy: operation({ method: 'POST', path: '/cases/{id}/remedies/{n}', summary: 'Apply a remedy, counted from 1.', role: 'administrator', answer: z.object({ case: schema.docketCase, sentence: z.string() }), status: 200 }),
  listLinks: operation({ method: 'GET', path: '/links', summary: 'Links, by filters, one page at a time.', role: 'viewer', query: schema.linkListQuery, answer: page(schema.link), status: 200 }),
  countLinks: operation({
    method: 'GET', path: '/links/counts', summary: 'How many links each filter would leave.', role: 'viewer', query: schema.linkFilters, status: 200,
    answer: z.object({
      total: z.int(),
      domains: z.array(z.object({ host: z.string(), links: z.int() })),
      standings: z.record(z.string(), z.int()),
      redirects: z.object({ temporary: z.int(), permanent: z.int() }),
      tags: z.array(z.object({ name: z.string(), links: z.int() })),
    }),
  }),
  createLink: operation({ method: 'POST', path: '/links', summary: 'Make a link.', role: 'editor', body: schema.linkCreate, answer: schema.link, status: 201 }),
  readLink: operation({ method: 'GET', path: '/links/{id}', summary: 'One link, with its visits of the last 60 days.', role: 'viewer', answer: schema.link, status: 200 }),
  changeLink: operation({ method: 'PATCH', path: '/links/{id}', summary: 'Change a link, or its standing.', role: 'editor', body: schema.linkPatch, answer: schema.link, status: 200, ifMatch: true }),
  linkHistory: operation({ method: 'GET', path: '/links/{id}/history', summary: 'What happened to a link, newest first.', role: 'viewer', query: schema.ledgerQuery, answer: page(schema.ledgerEntry), status: 200 }),
  checkSlug: operation({ method: 'POST', path: '/slugs/check', summary: 'Whether a slug is free.', role: 'viewer', body: schema.slugCheckRequest, answer: schema.slugCheck, status: 200 }),
  listLedger: operation({ method: 'GET', path: '/ledger', summary: 'All changes, newest first.', role: 'viewer', query: schema.ledgerQuery, answer: page(schema.ledgerEntry), status: 200 }),
  undo: operation({ method: 'POST', path: '/ledger/{id}/undo', summary: 'Undo one change by a change of its own.', role: 'editor', body: schema.undoRequest, answer: schema.ledgerEntry, status: 201 }),
  listTags: operation({ method: 'GET', path: '/tags', summary: 'All tags, with how many links have each.', role: 'viewer', answer: list(z.object({ name: z.string(), links: z.int() })), status: 200 }),
  listMembers: operation({ method: 'GET', path: '/members', summary: 'All members.', role: 'administrator', answer: list(schema.member), status: 200 }),
  createMember: operation({ method: 'POST', path: '/members', summary: 'Add a member.', role: 'administrator', body: schema.memberCreate, answer: schema.member, status: 201 }),
  changeMember: operation({ method: 'PATCH', path: '/members/{id}', summary: 'Change a member.', role: 'administrator', body: schema.memberPatch, answer: schema.member, status: 200, ifMatch: true }),
  listTokens: operation({ method: 'GET', path: '/tokens', summary: 'Your own API tokens.', role: 'viewer', answer: list(schema.token), status: 200 }),
  createToken: operation({ method: 'POST', path: '/tokens', summary: 'Make an API token; its secret is told once.', role: 'viewer', body: schema.tokenCreate, answer: schema.token.extend({ secret: z.string() }), status: 201 }),
  revokeToken: operation({ method: 'DELETE', path: '/tokens/{id}', summary: 'Revoke one of your API tokens.', role: 'viewer', status: 204 }),
  trace: operation({ method: 'POST', path: '/trace', summary: 'What a stranger asking for an address is answered, step by step.', role: 'viewer', body: schema.traceRequest, answer: schema.trace, status: 200 }),
  readOpenApi: operation({ method: 'GET', path: '/openapi.json', summary: 'This document.', role: 'stranger', answer: z.looseObject({}), status: 200 }),
} as const
