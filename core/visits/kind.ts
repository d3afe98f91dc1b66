import { isbot } from 'isbot'

/**
 * What a request was (semantics §8): a visit is a GET that got a redirect to its link's destination; what only
 * looks like one is kept apart, and so is every request that found nothing.
 */
export const VISIT_KINDS = ['visit', 'head', 'prefetch', 'preview', 'robot', 'other-method', 'page'] as const
export type VisitKind = (typeof VISIT_KINDS)[number]

export interface KindFacts {
  method: string
  /** The answer led to the link's own destination. */
  redirected: boolean
  userAgent: string
  /** Sec-Purpose or the older Purpose field. */
  purpose: string
}

// Fetchers that name themselves and draw a link's preview in a message or a post (common practice, no source).
const PREVIEW = /preview|unfurl|embed|link ?expander/i

/** Sorts one request. Declared robots are known by isbot's list. */
export function visitKind(facts: KindFacts): VisitKind {
  if (/\bpre(?:fetch|render|view)\b/i.test(facts.purpose)) return 'prefetch'
  if (PREVIEW.test(facts.userAgent)) return 'preview'
  if (facts.userAgent === '' || isbot(facts.userAgent)) return 'robot'
  if (facts.method === 'HEAD') return 'head'
  if (facts.method !== 'GET') return 'other-method'
  return facts.redirected ? 'visit' : 'page'
}
