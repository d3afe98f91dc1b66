import { parameterName } from '../address/query'
import type { Evidence, HopFields } from './evidence'
import { lostParameters } from './parameters'
import type { Move } from './sister-move'
import type { VerdictName } from './verdicts'

/** Fields that tell whether a page may be framed. */
export type FrameFields = Pick<HopFields, 'frameOptions' | 'frameAncestors'>

/** How another destination was come to. */
export const REMEDY_KINDS = {
  'chain-end': { title: 'Point to the final page', sureness: 0.99 },
  'sister-move': { title: 'Move it like the other pages of this host', sureness: 0.95 },
  https: { title: 'Use https', sureness: 0.9 },
  host: { title: 'Use the host’s other name (www or bare)', sureness: 0.85 },
  'keep-parameters': { title: 'Point to the final page, keeping the parameters', sureness: 0.8 },
  sitemap: { title: 'Point to the replacement page', sureness: 0.8 },
  'own-links': { title: 'Point to the page that the 404 page links to', sureness: 0.7 },
  earlier: { title: 'Restore the previous destination', sureness: 0.6 },
  archive: { title: 'Point to the site’s archive', sureness: 0.5 },
  parent: { title: 'Point to the parent page', sureness: 0.4 },
} as const
export type FoundRemedyKind = keyof typeof REMEDY_KINDS

/** Another destination, tried before it is offered. */
export interface FoundRemedy {
  kind: FoundRemedyKind
  destination: string
  /** Why this one, in a sentence. */
  why: string
  /** What it answered when it was tried. */
  verified: string
  title: string
  /** How sure it is that this is meant, 0 to 1. */
  sureness: number
  /** The move it follows, with how many sisters made it. */
  move?: { move: Move; sisters: number }
}

/** All that was found and tried for one target. */
export interface FoundRemedies {
  at: number
  offers: FoundRemedy[]
  /** Addresses tried that do not answer as they should. */
  failed: { destination: string; why: string }[]
}

export interface Candidate {
  kind: FoundRemedyKind
  destination: string
  why: string
  sureness: number
  move?: FoundRemedy['move']
}

const MAX_PARENTS = 3

/**
 * Addresses near a destination that may answer where it does not: https, the other name of the host, the site’s
 * archive and the folders above, the nearest first. They are guesses until tried.
 */
export function nearCandidates(destination: string, verdict: VerdictName): Candidate[] {
  const url = new URL(destination)
  const found: Candidate[] = []
  const add = (kind: FoundRemedyKind, to: string, why: string, less = 0) =>
    found.push({ kind, destination: to, why, sureness: REMEDY_KINDS[kind].sureness - less })
  if (url.protocol === 'http:') add('https', destination.replace(/^http:/i, 'https:'), 'The same address by https.')
  if (!/^\d|^\[/.test(url.hostname) && url.hostname.includes('.')) {
    const bare = url.hostname.startsWith('www.')
    const other = bare ? url.hostname.slice(4) : `www.${url.hostname}`
    const host = Object.assign(new URL(destination), { hostname: other }).href
    if (bare || ['no-such-name', 'no-answer', 'certificate', 'parked', 'not-found'].includes(verdict))
      add('host', host, `The same path on ${other}.`)
  }
  if (!['not-found', 'soft-not-found', 'front-page', 'server-error', 'sign-in', 'redirect-loop'].includes(verdict))
    return found
  if (!url.pathname.startsWith('/archive/') && url.pathname !== '/')
    add('archive', `${url.origin}/archive${url.pathname}`, 'The same path below the site’s archive.')
  const parts = url.pathname.split('/').filter(Boolean)
  for (let up = 1; up <= Math.min(MAX_PARENTS, parts.length); up++) {
    const rest = parts.slice(0, parts.length - up)
    if (rest.length === 0 && up > 1) break
    const path = rest.length === 0 ? '/' : `/${rest.join('/')}/`
    add('parent', url.origin + path, up === 1 ? 'The folder above.' : `${up} folders above.`, up * 0.05)
  }
  return found
}

/** Ways round what goes wrong on the way to a page that is there: its parameters put back on, its end by https. */
export function endCandidates(evidence: Evidence): Candidate[] {
  const last = evidence.hops.at(-1)!
  if (last.fault || evidence.hops.length < 2) return []
  const found: Candidate[] = []
  const lost = lostParameters(evidence.hops)
  const end = new URL(last.url)
  if (evidence.destination.startsWith('https:') && end.protocol === 'http:') end.protocol = 'https:'
  if (lost.length > 0) {
    const own = new URL(evidence.destination).search.slice(1).split('&')
    const names = new Set(lost.map(({ name }) => name))
    const back = own.filter((piece) => names.has(parameterName(piece)))
    end.search = [end.search.slice(1), ...back].filter(Boolean).join('&')
    found.push({
      kind: 'keep-parameters',
      destination: end.href,
      why: 'The page it ends at, with what gets lost on the way.',
      sureness: REMEDY_KINDS['keep-parameters'].sureness,
    })
  } else if (end.href !== last.url)
    found.push({
      kind: 'https',
      destination: end.href,
      why: 'The page it ends at, by https.',
      sureness: REMEDY_KINDS.https.sureness,
    })
  return found
}

/** The end of a chain whose every hop is permanent; `undefined` where it is none. */
export function chainEnd(evidence: Evidence): Candidate | undefined {
  const last = evidence.hops.at(-1)!
  const all = evidence.hops.slice(0, -1)
  if (all.length === 0 || last.fault || !all.every((hop) => hop.status === 301 || hop.status === 308)) return undefined
  const hops = all.length === 1 ? 'its redirect says' : `all ${all.length} redirects say`
  return {
    kind: 'chain-end',
    destination: last.url,
    why: `Where ${hops} it moved permanently.`,
    sureness: REMEDY_KINDS['chain-end'].sureness,
  }
}
