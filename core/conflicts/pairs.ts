import { canonicalSlug } from '../address'
import { breachesOf, digitMask, slipPairs, slipsOf } from '../slugs'
import type { Conflict, ScanProgress, SurveyLink } from './model'
import { differ, lookKey, type SurveyState } from './state'

/** Pairs of a group that are told; larger groups are a matter of the slug rules, not of single pairs. */
const MOST_OF_GROUP = 12
/** Pairs kept of one kind and domain. */
export const MOST_PAIRS = 20_000

const pair = (kind: Conflict['kind'], a: SurveyLink, b: SurveyLink): Conflict => {
  const [low, high] = a.id < b.id ? [a, b] : [b, a]
  return { kind, key: `${kind} ${low.id} ${high.id}`, domainId: low.domainId, links: [low.id, high.id], rules: [] }
}

/** Pairs that look alike among the links that share a key. */
function lookAlikes(state: SurveyState, ids: Iterable<number>): Conflict[] {
  const links = [...ids]
    .map((id) => state.links.get(id))
    .filter((link) => state.counts(link))
    .sort((a, b) => b!.visits28 - a!.visits28 || a!.id - b!.id)
    .slice(0, MOST_OF_GROUP) as SurveyLink[]
  const found: Conflict[] = []
  for (let one = 0; one < links.length; one++)
    for (let other = one + 1; other < links.length; other++)
      if (differ(links[one]!, links[other]!)) found.push(pair('look-alike', links[one]!, links[other]!))
  return found
}

const looksAlike = (state: SurveyState, a: SurveyLink, b: SurveyLink) =>
  state.counts(a) && state.counts(b) && lookKey(a.domainId, a.canonical) === lookKey(b.domainId, b.canonical)

/** All pairs that look alike. */
export function* allLookAlikes(state: SurveyState): Generator<Conflict | ScanProgress> {
  const total = state.looks.size
  let done = 0
  for (const ids of state.looks.values()) {
    if (ids.size > 1) yield* lookAlikes(state, ids)
    if (++done % 5000 === 0) yield { phase: 'look-alikes', done, total }
  }
}

/** All pairs one slip apart. */
export function* allSlips(state: SurveyState): Generator<Conflict | ScanProgress> {
  const byDomain = new Map<number, SurveyLink[]>()
  for (const link of state.links.values()) {
    if (!state.isLive(link)) continue
    const list = byDomain.get(link.domainId)
    if (list) list.push(link)
    else byDomain.set(link.domainId, [link])
  }
  const total = state.links.size
  let done = 0
  for (const links of byDomain.values()) {
    let kept = 0
    for (const found of slipPairs(links.map((link) => link.canonical!))) {
      if (!found) {
        yield { phase: 'slips', done: Math.min(total, done), total }
        continue
      }
      const [a, b] = [links[found[0]]!, links[found[1]]!]
      if (!differ(a, b) || looksAlike(state, a, b)) continue
      yield pair('one-slip', a, b)
      if (++kept === MOST_PAIRS) break
    }
    done += links.length
  }
}

/** Ids of live links of their own exactly one slip from a slug, siblings of a series left out. */
export function slipNeighbours(state: SurveyState, domainId: number, canonical: string): number[] {
  const table = state.table.domains.get(domainId)
  if (!table) return []
  const found = new Set<number>()
  const mask = digitMask(canonical)
  for (const near of slipsOf(canonical, [...(state.alphabets.get(domainId) ?? [])])) {
    const entry = table.links.get(near)
    if (entry && state.isLive(state.links.get(entry.id)) && digitMask(near) !== mask) found.add(entry.id)
  }
  return [...found]
}

/** Ids of links of their own that look like a slug. */
export const lookNeighbours = (state: SurveyState, domainId: number, canonical: string): number[] =>
  [...(state.looks.get(lookKey(domainId, canonical)) ?? [])].filter(
    (id) => state.counts(state.links.get(id)) && state.links.get(id)!.canonical !== canonical,
  )

/** The pairs a link is part of. */
export function pairsAround(state: SurveyState, link: SurveyLink): Conflict[] {
  if (!state.counts(link)) return []
  const found = lookAlikes(state, state.looks.get(lookKey(link.domainId, link.canonical)) ?? []).filter((conflict) =>
    conflict.links.includes(link.id),
  )
  if (!state.isLive(link)) return found
  for (const id of slipNeighbours(state, link.domainId, link.canonical)) {
    const other = state.links.get(id)!
    if (id !== link.id && differ(link, other) && !looksAlike(state, link, other))
      found.push(pair('one-slip', link, other))
  }
  return found
}

/** Links that would be one address, by their slugs as typed under the domain's rules of today. */
export function sameAddresses(state: SurveyState): Conflict[] {
  const byAddress = new Map<string, number[]>()
  for (const link of state.links.values()) {
    if (link.canonical === null) continue
    const key = `${link.domainId}/${canonicalSlug(link.slug, state.domains.get(link.domainId)!) ?? link.canonical}`
    const list = byAddress.get(key)
    if (list) list.push(link.id)
    else byAddress.set(key, [link.id])
  }
  const found: Conflict[] = []
  for (const [key, ids] of byAddress) {
    if (ids.length < 2) continue
    const domainId = Number(key.slice(0, key.indexOf('/')))
    found.push({
      kind: 'same-address',
      key: `same-address ${ids.sort((a, b) => a - b).join(' ')}`,
      domainId,
      links: ids,
      rules: [],
      witness: key.slice(key.indexOf('/') + 1),
    })
  }
  return found
}

/** A link whose slug breaks the rules of today and was not kept as an exception. */
export function ruleBreaker(state: SurveyState, link: SurveyLink): Conflict | undefined {
  if (link.exception || !state.counts(link)) return undefined
  const domain = state.domains.get(link.domainId)!
  const breaches = breachesOf(link.slug, domain.slugRules, domain.capitalsMatter)
  if (breaches.length === 0) return undefined
  return {
    kind: 'rule-breaker',
    key: `rule-breaker ${link.id}`,
    domainId: link.domainId,
    links: [link.id],
    rules: [],
    sentences: breaches.map(({ sentence }) => sentence),
  }
}

const MOST_TWINS = 50

/** Several links of their own that lead to one place. */
export function twins(state: SurveyState, place: string): Conflict | undefined {
  const links = [...(state.places.get(place) ?? [])]
    .map((id) => state.links.get(id)!)
    .filter((link) => state.counts(link))
    .sort((a, b) => b.visits28 - a.visits28 || a.id - b.id)
  if (links.length < 2) return undefined
  const first = links.reduce((least, link) => (link.id < least.id ? link : least))
  return {
    kind: 'twins',
    key: `twins ${place}`,
    domainId: first.domainId,
    links: links.slice(0, MOST_TWINS).map(({ id }) => id),
    rules: [],
    end: place,
    count: links.length,
    sentences:
      new Set(links.map(({ destination }) => destination)).size > 1
        ? ['They differ in tracking parameters or in spelling only.']
        : [],
  }
}
