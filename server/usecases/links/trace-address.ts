import type { z } from 'zod'
import { canonicalSlug, foldCase, readHost, readSlug, readTarget, readTypedAddress } from '../../../core/address'
import type { Survey } from '../../../core/conflicts'
import { lookAlikeKey } from '../../../core/slugs'
import { compile, explain, putLink, type Explanation, type Table, type TableRequest } from '../../../core/table'
import type { DomainRow, LinkRow, RuleRow } from '../../../core/rows'
import type { Trace, traceRequest } from '../../../core/schemas'
import type { Database } from '../../database/open'
import { fieldProblem } from '../problem'
import { currentSurvey } from '../conflicts/survey'

/**
 * What a stranger asking for this address would be answered, step by step, by the gateway's own code. The table is made
 * of all domains and rules, and of those links that could be found under the address.
 */
export async function traceAddress(db: Database, request: z.output<typeof traceRequest>): Promise<Trace> {
  const typed = readTypedAddress(request.address)
  if (!typed.ok)
    throw fieldProblem(
      'address',
      typed.reason === 'scheme'
        ? 'Only http:// and https:// addresses can be traced.'
        : 'Give a short address, like ansl.example/fares.',
    )
  const survey = await currentSurvey(db)
  const now = request.as.at === null ? Date.now() : Date.parse(request.as.at)
  const domains = [...survey.state.domains.values()].sort((a, b) => a.id - b.id)
  const host = typed.host ?? (domains.find((domain) => domain.open) ?? domains[0])?.host
  const reading = host === undefined ? undefined : readHost(host)
  const asked = reading?.ok ? domains.find((domain) => domain.host === reading.host)?.id : undefined
  const { table, trace } = tracer(
    survey,
    [...survey.state.rules.values()].filter((rule) => rule.active && rule.domainId === asked),
  )
  const view = trace(host, typed.target, now, request.as.method, { acceptLanguage: request.as.acceptLanguage })
  return {
    address: (host ?? '') + typed.target,
    revision: table.revision,
    at: new Date(now).toISOString(),
    status: view.answer.status,
    location: view.answer.location,
    headers: Array.from({ length: view.headers.length / 2 }, (_, index) => [
      view.headers[2 * index]!,
      view.headers[2 * index + 1]!,
    ]),
    verdict: view.verdict,
    steps: view.steps,
    linkId: view.answer.linkId || null,
    ruleId: view.answer.ruleId || null,
    mended: view.answer.mended,
  }
}

/** Explains requests against the register as it is, with these rules in place of its own; they are compiled once. */
export function tracer(
  survey: Survey,
  rules: readonly RuleRow[],
  { asIfOpen = false } = {},
): {
  table: Table
  trace(
    host: string | undefined,
    target: string,
    now: number,
    method?: string,
    visitor?: TableRequest['visitor'],
  ): Explanation
} {
  const domains: DomainRow[] = [...survey.state.domains.values()].map((row) =>
    asIfOpen ? { ...row, open: true } : row,
  )
  const table = compile(domains, [], survey.revision, rules)
  return {
    table,
    trace(host, target, now, method = 'GET', visitor) {
      const reading = host === undefined ? undefined : readHost(host)
      const domain = reading?.ok ? domains.find((row) => row.host === reading.host) : undefined
      if (domain) for (const link of linksInReach(survey, domain, target)) putLink(table, link)
      return explain(table, { method, host, target, visitor }, now)
    },
  }
}

/** Links that have the address, and those that forgiveness could come to. */
function linksInReach(survey: Survey, domain: DomainRow, target: string): LinkRow[] {
  const split = readTarget(target)
  const reading = split.ok ? readSlug(split.path, domain) : undefined
  if (!split.ok || !reading?.ok) return []
  const { state } = survey
  const table = state.table.domains.get(domain.id)!
  const ids = new Set<number>()
  const bare = reading.canonical.replace(/(?:[^\p{L}\p{N}/%]|%[0-9A-F]{2})+$/u, '')
  for (const slug of [split.path.slice(1), reading.canonical, canonicalSlug(bare, domain)]) {
    const entry = slug === undefined ? undefined : table.links.get(slug)
    if (entry) ids.add(entry.id)
  }
  const { capitals, lookAlikes, punctuation } = domain.forgiveness
  if (capitals || lookAlikes || punctuation) {
    // What folds alike looks alike as well: one index has the candidates of both.
    for (const slug of new Set([reading.canonical, bare, foldCase(bare)]))
      for (const id of state.looks.get(`${domain.id}/${lookAlikeKey(slug)}`)) ids.add(id)
    for (const id of [...ids]) for (const forwarding of state.forwards.get(id) ?? []) ids.add(forwarding)
  }
  return [...ids].map((id) => state.effective(state.links.get(id)!)).filter((row) => row !== undefined)
}
