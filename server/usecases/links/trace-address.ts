import type { z } from 'zod'
import { canonicalSlug, foldCase, readHost, readSlug, readTarget, readTypedAddress } from '../../../core/address'
import type { Survey } from '../../../core/conflicts'
import { lookAlikeKey } from '../../../core/slugs'
import { compile, explain, follow, putLink, type Explanation, type Table, type TableRequest } from '../../../core/table'
import type { DomainRow, LinkRow, RuleRow } from '../../../core/rows'
import type { Trace, traceRequest } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { NamesContext } from '../../names/context'
import type { Actor } from '../ledger/change'
import { fieldProblem } from '../problem'
import { currentSurvey } from '../conflicts/survey'
import { readTargets, toTargetView } from '../targets/target-view'
import { followOn } from '../targets/follow-on'
import { destinationHash } from './link-state'

/**
 * What a stranger asking for this address would be answered, step by step, by the gateway's own code. The table is made
 * of all domains and rules, and of those links that could be found under the address.
 */
export async function traceAddress(
  db: Database,
  request: z.output<typeof traceRequest>,
  ask?: { names: NamesContext; actor: Actor },
): Promise<Trace> {
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
  const address = (host ?? '') + typed.target
  const own = ownWay(survey, host, typed.target, view, request.as.acceptLanguage)
  const onward =
    request.follow && ask && view.answer.location !== null
      ? await followOn(db, ask, { address, location: view.answer.location, language: request.as.acceptLanguage })
      : null
  const told = onward && onward.state !== 'idle'
  const verdict = own ?? (told ? { state: onward.state, sentence: onward.sentence } : await byTarget(db, view))
  return {
    address,
    revision: table.revision,
    at: new Date(now).toISOString(),
    status: view.answer.status,
    location: view.answer.location,
    headers: Array.from({ length: view.headers.length / 2 }, (_, index) => [
      view.headers[2 * index]!,
      view.headers[2 * index + 1]!,
    ]),
    verdict,
    onward,
    steps: view.steps.map((step) => {
      // Nothing is green that does not arrive, as far as that is known.
      if (step.name === 'Destination') return { ...step, state: verdict.state }
      const link = step.name === 'Found' ? survey.state.links.get(view.answer.linkId) : undefined
      return link ? { ...step, value: survey.state.address(link.domainId, link.slug) } : step
    }),
    linkId: view.answer.linkId || null,
    ruleId: view.answer.ruleId || null,
    mended: view.answer.mended,
  }
}

/** Where our own addresses lead to each other: a circle, or one through others of ours; nothing for all else. */
function ownWay(
  survey: Survey,
  host: string | undefined,
  target: string,
  { answer }: Explanation,
  acceptLanguage: string,
): Trace['verdict'] | undefined {
  if (host === undefined || answer.location === null || !survey.state.isOurs(answer.location)) return undefined
  const way = follow(survey.state, host, target, { acceptLanguage })
  if (way.loopsTo === undefined) return undefined
  return {
    state: 'broken',
    sentence: `Redirect loop: ${[...way.via, way.via[way.loopsTo]].join(' → ')}`,
  }
}

/** What is known of the destination says whether visitors arrive; where nothing is, nobody says they do. */
async function byTarget(db: Database, { answer, verdict }: Explanation): Promise<Trace['verdict']> {
  if (answer.location === null || verdict.state !== 'sound' || !/^https?:/i.test(answer.location)) return verdict
  const hash = destinationHash(answer.location)
  const target = toTargetView((await readTargets(db, [hash])).get(hash))
  if (!target) return { state: 'idle', sentence: `${verdict.sentence}, which has not been asked yet` }
  if (target.confidence === 'sound') return verdict
  return { state: target.confidence, sentence: `${verdict.sentence}, but: ${target.sentence}` }
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
