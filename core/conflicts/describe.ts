import { conditionFingerprint } from '../conditions'
import { counted } from '../text/counted'
import type { Conflict } from './model'
import type { SurveyState } from './state'

const DAYS = 28
/** What is shown; more would push the remedies out of sight. */
const MAX_EVIDENCE = 5

/** A conflict in words. */
export interface ConflictDescription {
  /** Whom it is between, as addresses or patterns. */
  subject: string
  severity: 'broken' | 'doubtful'
  headline: string
  sentence: string
  evidence: { label: string; text: string; state: 'sound' | 'doubtful' | 'broken' }[]
  /** Visits a day affected, over the last 28 days. */
  impact: number
}

const perDay = (visits: number) => Math.round((visits / DAYS) * 100) / 100
const inWords = (visits: number) =>
  visits >= 10 ? Math.round(visits).toLocaleString('en') : String(Math.round(visits * 10) / 10)
const visitsADay = (visits: number) => `${inWords(visits)} ${inWords(visits) === '1' ? 'visit' : 'visits'} a day`

export function severityOf(conflict: Conflict): 'broken' | 'doubtful' {
  if (conflict.kind === 'same-address' || conflict.kind === 'loop') return 'broken'
  if (conflict.kind === 'hidden') return conflict.links.length === 0 ? 'broken' : 'doubtful'
  return conflict.kind === 'chain' && conflict.end === undefined && (conflict.endStatus ?? 0) >= 400
    ? 'broken'
    : 'doubtful'
}

/** Visits a day that a conflict affects. */
export function impactOf(state: SurveyState, conflict: Conflict): number {
  const visits = conflict.links.map((id) => state.links.get(id)?.visits28 ?? 0)
  const all = visits.reduce((sum, count) => sum + count, 0)
  // Of twins, what comes through the spare ones; of a rule never reached, nothing goes through it.
  if (conflict.kind === 'twins') return perDay(all - Math.max(0, ...visits))
  const ruled =
    conflict.kind === 'hidden' ? 0 : conflict.rules.reduce((sum, id) => sum + (state.rules.get(id)?.visits28 ?? 0), 0)
  return perDay(all + ruled)
}

/**
 * What a decision to keep a conflict as it is holds for: it changes when the addresses, destinations or patterns do.
 */
export function fingerprintOf(state: SurveyState, conflict: Conflict): string {
  const links = conflict.links
    .map((id) => state.links.get(id))
    .map((link) => `${link?.id} ${link?.slug} ${link?.destination}`)
  const rules = conflict.rules
    .map((id) => state.rules.get(id))
    .map((rule) => `${rule?.id} ${rule?.pattern} ${conditionFingerprint(rule?.condition ?? [])} ${rule?.destination}`)
  return [conflict.kind, ...links, ...rules, ...(conflict.sentences ?? [])].join('\n')
}

/** Tells a conflict to people. */
export function describeConflict(state: SurveyState, conflict: Conflict): ConflictDescription {
  const host = state.domains.get(conflict.domainId)?.host ?? ''
  const links = conflict.links.map((id) => state.links.get(id)).filter((link) => link !== undefined)
  const rules = conflict.rules.map((id) => state.rules.get(id)).filter((rule) => rule !== undefined)
  const addressOf = (link: (typeof links)[number]) => `${state.domains.get(link.domainId)?.host ?? ''}/${link.slug}`
  const linkEvidence = links.slice(0, MAX_EVIDENCE).map((link) => ({
    label: addressOf(link),
    text: `→ ${link.destination} · ${visitsADay(perDay(link.visits28))}`,
    state: 'doubtful' as const,
  }))
  const ruleEvidence = rules.map((rule) => ({
    label: rule.pattern,
    text: `rule ${orderOf(state, rule.id)} → ${rule.destination}`,
    state: 'doubtful' as const,
  }))
  const impact = impactOf(state, conflict)
  const severity = severityOf(conflict)
  const witness =
    conflict.witness === undefined
      ? undefined
      : `${host}/${conflict.witness}${conflict.visitor?.query ? '?' + conflict.visitor.query : ''}`
  const [a, b] = links
  const both = a && b ? `${addressOf(a)} and ${addressOf(b)}` : ''
  const view = (
    subject: string,
    headline: string,
    sentence: string,
    evidence: ConflictDescription['evidence'],
  ): ConflictDescription => ({ subject, severity, headline, sentence, evidence, impact })
  const shown = witness === undefined ? [] : [{ label: witness, text: 'example', state: 'doubtful' as const }]

  switch (conflict.kind) {
    case 'same-address':
      return view(
        witness!,
        'Several links share one address',
        `${counted(links.length, 'link')} would answer at ${witness}, but only one of them can. They came ` +
          'to be the same by a change of the slug rules or by an import.',
        linkEvidence,
      )
    case 'look-alike':
      return view(
        both,
        'Two addresses look alike',
        `${both} look alike and have different destinations. About ${visitsADay(impact)} ` +
          `${inWords(impact) === '1' ? 'goes' : 'go'} through the two.`,
        linkEvidence,
      )
    case 'one-slip':
      return view(
        both,
        'One typing error apart',
        `${both} differ by one typing error and have different destinations. Someone who mistypes one reaches ` +
          `the other without noticing. About ${visitsADay(impact)} ` +
          `${inWords(impact) === '1' ? 'goes' : 'go'} through the two.`,
        linkEvidence,
      )
    case 'hidden': {
      const rule = rules[0]
      if (links.length === 0) {
        const takers = rules.slice(1)
        const who = takers.length === 0 ? 'links' : takers.map((taker) => `“${taker.pattern}”`).join(', ')
        return view(
          `${host} ${rule?.pattern}`,
          'Rule never applies',
          `Every address that “${rule?.pattern}” matches is answered earlier by ${who}. Example: ${witness}.`,
          [...ruleEvidence, ...shown],
        )
      }
      const count = conflict.count ?? links.length
      return view(
        `${host} ${rule?.pattern}`,
        count === 1 ? '1 link matches this rule’s pattern' : `${counted(count, 'link')} match this rule’s pattern`,
        `“${rule?.pattern}” seems meant for ${witness} as well, but the link of that address answers, and ` +
          'leads elsewhere than the rule ' +
          `would.${count > 1 ? ` So it is with ${counted(count, 'link')} in all.` : ''}`,
        [...ruleEvidence, ...linkEvidence],
      )
    }
    case 'overlapping': {
      const [first, second] = [...rules].sort((one, other) => one.position - other.position || one.id - other.id)
      return view(
        `${host} ${first?.pattern} and ${second?.pattern}`,
        'Two rules overlap',
        `“${first?.pattern}” and “${second?.pattern}” both take ${witness}; the first of them answers. ` +
          'Each also takes addresses the other does not.',
        [...ruleEvidence, ...shown],
      )
    }
    case 'loop':
      return view(
        conflict.via![0]!,
        'Redirect loop',
        `A request for ${conflict.via![0]} is redirected from one short address to the next and never ` +
          `reaches a page: ${conflict.via!.join(' → ')}. Browsers give up after 20 redirects.`,
        conflict
          .via!.slice(0, -1)
          .slice(0, MAX_EVIDENCE)
          .map((address, at) => ({
            label: address,
            text: `leads to ${conflict.via![at + 1]}`,
            state: 'broken' as const,
          })),
      )
    case 'chain': {
      const start = conflict.via![0]!
      const broken = severity === 'broken'
      return view(
        links[0] ? addressOf(links[0]) : `${host} ${rules[0]?.pattern}`,
        broken ? 'Redirects to a short address that does not work' : 'Redirects through another short address',
        broken
          ? `${start} leads to ${conflict.via!.at(-1)}, a short address that answers ${conflict.endStatus}.`
          : `${start} leads to ${conflict.via!.slice(1).join(', then ')} before it reaches ` +
              `${conflict.end ?? 'a built-in page'}. Each step costs time, and fails if the link it goes through ` +
              'fails.',
        [
          ...conflict.via!.map((address, at) => ({
            label: address,
            text: at === 0 ? 'requested' : 'passed on the way',
            state: 'doubtful' as const,
          })),
          {
            label: conflict.end ?? `status ${conflict.endStatus}`,
            text: 'final answer',
            state: broken ? ('broken' as const) : ('sound' as const),
          },
        ],
      )
    }
    case 'twins': {
      const count = conflict.count ?? links.length
      return view(
        conflict.end!,
        `${counted(count, 'address', 'addresses')} have one destination`,
        (
          `${counted(count, 'address', 'addresses')} lead to ${conflict.end}; ` +
          `If it moves, each of them has to be changed. ${conflict.sentences![0] ?? ''}`
        ).trim(),
        linkEvidence,
      )
    }
    case 'rule-breaker':
      return view(
        a ? addressOf(a) : host,
        'Breaks the slug rules',
        `${a ? addressOf(a) : ''} does not meet the slug rules of ${host}: ${conflict.sentences!.join(' ')}`,
        linkEvidence,
      )
  }
}

function orderOf(state: SurveyState, id: number): number {
  const rule = state.rules.get(id)!
  return [...state.rules.values()].filter(
    (other) =>
      other.domainId === rule.domainId &&
      (other.position < rule.position || (other.position === rule.position && other.id <= id)),
  ).length
}
