import type { z } from 'zod'
import { readHost, readSlug, readTypedAddress } from '../../../core/address'
import { readPattern, readTemplate } from '../../../core/patterns'
import type { patternCompare, patternComparison, PatternTest, PatternTested } from '../../../core/schemas'
import type { Survey } from '../../../core/conflicts'
import type { RuleRow } from '../../../core/rows'
import type { Database } from '../../database/open'
import { inChild } from '../../threads/in-child'
import { fieldProblem, Problem } from '../problem'
import { findDomainNamed } from '../domains/find-domain'
import { currentSurvey } from '../conflicts/survey'
import { yielder } from '../yield-to-event-loop'
import { tracer } from '../links/trace-address'

/** How two patterns stand to each other, proven on automata. */
export async function compareTwo(input: z.output<typeof patternCompare>): Promise<z.output<typeof patternComparison>> {
  const { syntax, a, b, capitalsMatter, trailingSlashMatters } = input
  const compared = await inChild(
    'compare-patterns',
    { syntax, a, b, sameness: { capitalsMatter, trailingSlashMatters } },
    { what: 'Comparing these patterns', instead: 'Write them more plainly.' },
  )
  if (!compared.ok) throw fieldProblem(compared.at === 0 ? 'a' : 'b', compared.sentence)
  const { relation, witness, onlyA, onlyB } = compared.comparison
  const path = (slug: string | undefined) => (slug === undefined ? null : '/' + slug)
  return { relation, witness: path(witness), onlyA: path(onlyA), onlyB: path(onlyB) }
}

/** So long one test may take. */
const MAX_MS = 5000

/** The domain that addresses are of. */
function hostOf(survey: Survey, addresses: readonly string[]): string {
  const domains = [...survey.state.domains.values()].sort((a, b) => a.id - b.id)
  const named = addresses
    .map((address) => readTypedAddress(address))
    .flatMap((typed) => (typed.ok && typed.host !== undefined ? [typed.host.toLowerCase()] : []))
  return domains.find(({ host }) => named.includes(host))?.host ?? domains[0]?.host ?? ''
}

/** Which of some rules takes each address and what comes out, as the trace computes it. */
export async function testPatterns(db: Database, input: PatternTest): Promise<PatternTested> {
  const survey = await currentSurvey(db)
  const domain = await findDomainNamed(db, input.domain ?? hostOf(survey, input.addresses))
  const domainId = domain.id
  const faults: PatternTested['faults'] = []
  const yieldNow = yielder()
  const own = [...survey.state.rules.values()]
    .filter((rule) => rule.domainId === domainId)
    .sort((a, b) => a.position - b.position || a.id - b.id)
  const drafts: (RuleRow & { active: boolean })[] = input.rules
    ? input.rules.map((rule, index) => ({
        ...rule,
        // Drafts count from 1 by their place; their own numbers are the API's matter.
        id: index + 1,
        domainId,
        position: index + 1,
        status: rule.status ?? domain.defaultStatus,
      }))
    : own.map((rule, index) => ({ ...rule, id: index + 1 }))
  for (const draft of drafts) {
    const reading = readPattern(draft.syntax, draft.pattern, !domain.capitalsMatter)
    const template = reading.ok ? readTemplate(draft.destination, reading.pattern.captures) : undefined
    const sentence = !reading.ok ? reading.sentence : template && !template.ok ? template.sentence : undefined
    if (sentence) faults.push({ rule: draft.id, sentence })
    await yieldNow()
  }
  const rules = drafts.filter((draft) => draft.active)
  const now = Date.now()
  // The bench tests rules, open or not.
  const { table, trace } = tracer(survey, rules, { asIfOpen: true })
  const index = table.domains.get(domainId)!.rules
  /** Rules that match an address, whoever asks, after the one that answers; all where a link does. */
  const laterThan = (target: string, answering: number) => {
    const reading = readSlug(target.split('?')[0]!, domain)
    if (!reading.ok) return []
    return index
      .candidates(reading.canonical)
      .filter(({ row, fits }) => row.id > answering && fits(reading.canonical))
      .map(({ row }) => row.id)
  }
  const test = (address: string): PatternTested['items'][number] => {
    const typed = readTypedAddress(address.includes('/') || address.includes('.') ? address : '/' + address)
    const host = typed.ok && typed.host !== undefined ? readHost(typed.host) : undefined
    if (!typed.ok || (host && (!host.ok || host.host !== domain.host))) {
      return {
        address,
        status: 0,
        location: null,
        by: 'none',
        rule: null,
        later: [],
        link: null,
        sentence: `Give addresses of ${domain.host}, or paths like /stop/4417.`,
      }
    }
    const view = trace(domain.host, typed.target, now, 'GET', { acceptLanguage: input.acceptLanguage })
    const { answer } = view
    const link = answer.linkId ? survey.state.links.get(answer.linkId) : undefined
    return {
      address,
      status: answer.status,
      location: answer.location,
      by: answer.mended ? 'forgiveness' : answer.ruleId ? 'rule' : answer.linkId ? 'link' : 'none',
      rule: answer.ruleId || null,
      later: laterThan(typed.target, answer.ruleId),
      link: link ? survey.state.address(link.domainId, link.slug) : null,
      sentence: view.verdict.sentence + '.',
    }
  }
  const items: PatternTested['items'] = []
  for (const address of input.addresses) {
    if (address === '') continue
    if (Date.now() - now > MAX_MS)
      throw new Problem(
        422,
        'Too much at once',
        `Only ${items.length} of ${input.addresses.length} addresses could be tested in ` +
          `${MAX_MS / 1000} s. Test fewer at once.`,
      )
    items.push(test(address))
    await yieldNow()
  }
  return { items, faults }
}
