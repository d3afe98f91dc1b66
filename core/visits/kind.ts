import { isbot } from 'isbot'

/**
 * What a request was (semantics §8): a visit is a GET that got a redirect to its link's destination; what only
 * looks like one is kept apart, and so is every request that found nothing.
 */
export const VISIT_KINDS = ['visit', 'head', 'prefetch', 'preview', 'robot', 'other-method', 'page'] as const
export type VisitKind = (typeof VISIT_KINDS)[number]

/** Who asks, as far as the user agent says. */
export type AgentKind = 'person' | 'preview' | 'robot'

export interface KindFacts {
  method: string
  /** The answer led to the link's own destination. */
  redirected: boolean
  agent: AgentKind
  /** Sec-Purpose or the older Purpose field. */
  purpose: string
}

// Fetchers that name themselves and draw a link's preview in a message or a post (common practice, no source).
const PREVIEW = /preview|unfurl|embed|link ?expander/i

/** Sorts a user agent. Declared robots are known by isbot's list; who names nothing is taken for one. */
export function agentKind(userAgent: string): AgentKind {
  if (PREVIEW.test(userAgent)) return 'preview'
  return userAgent === '' || isbot(userAgent) ? 'robot' : 'person'
}

/** Sorts one request. */
export function visitKind(facts: KindFacts): VisitKind {
  if (facts.purpose !== '' && /\bpre(?:fetch|render|view)\b/i.test(facts.purpose)) return 'prefetch'
  if (facts.agent !== 'person') return facts.agent
  if (facts.method === 'HEAD') return 'head'
  if (facts.method !== 'GET') return 'other-method'
  return facts.redirected ? 'visit' : 'page'
}
