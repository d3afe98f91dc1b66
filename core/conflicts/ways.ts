import { readHost, toWire } from '../address'
import { answer } from '../table'
import { PatternFault, witnesses } from '../patterns'
import type { Conflict } from './model'
import type { SurveyState } from './state'

/** As many redirects as browsers follow. */
const MOST_HOPS = 20

export interface Way {
  /** Addresses of ours passed, the first one first. */
  via: string[]
  links: number[]
  rules: number[]
  /** The position in `via` that the way came back to. */
  loopsTo: number | undefined
  /** Where it leads in the end, or what our last address answers. */
  end: string | undefined
  status: number
}

/** Follows an address through our own table, all domains and routes, by the gateway's own code. */
export function follow(state: SurveyState, host: string, target: string): Way {
  const way: Way = { via: [], links: [], rules: [], loopsTo: undefined, end: undefined, status: 0 }
  const seen = new Map<string, number>()
  for (let hop = 0; hop <= MOST_HOPS; hop++) {
    const given = answer(state.table, { method: 'GET', host, target }, state.now)
    const question = target.indexOf('?')
    const key = `${host}/${given.canonical}${question === -1 ? '' : target.slice(question)}`
    const before = seen.get(key)
    if (before !== undefined) return { ...way, loopsTo: before }
    seen.set(key, way.via.length)
    way.via.push(`${host}/${given.canonical}`)
    if (given.linkId) way.links.push(given.linkId)
    if (given.ruleId) way.rules.push(given.ruleId)
    way.status = given.status
    if (given.location === null) return way
    const next = ours(state, given.location)
    if (!next) return { ...way, end: given.location }
    host = next.host
    target = next.target
  }
  return { ...way, loopsTo: 0 }
}

function ours(state: SurveyState, location: string): { host: string; target: string } | undefined {
  if (!state.isOurs(location)) return undefined
  try {
    const url = new URL(location)
    const host = readHost(url.hostname)
    return host.ok && /^https?:$/.test(url.protocol)
      ? { host: host.host, target: url.pathname + url.search }
      : undefined
  } catch {
    return undefined
  }
}

/** What is wrong with the way an address begins: a loop, or a chain from its own answer to another of ours. */
export function wayConflict(
  state: SurveyState,
  domainId: number,
  canonical: string,
  subject: { link?: number; rule?: number },
  query = '',
): { conflict: Conflict | undefined; passed: string[] } {
  const way = follow(
    state,
    state.domains.get(domainId)!.host,
    toWire('/' + canonical) + (query === '' ? '' : '?' + query),
  )
  if (way.loopsTo !== undefined) {
    const inside = way.via.slice(way.loopsTo)
    const links = [...new Set(way.links)].sort((a, b) => a - b)
    return {
      passed: way.via,
      conflict: {
        kind: 'loop',
        key: `loop ${[...new Set(inside)].sort().join(' ')}`,
        domainId,
        links,
        rules: [...new Set(way.rules)],
        witness: canonical,
        via: [...way.via, way.via[way.loopsTo]!],
      },
    }
  }
  if (way.via.length < 2) return { passed: way.via, conflict: undefined }
  const { link, rule } = subject
  return {
    passed: way.via,
    conflict: {
      kind: 'chain',
      key: `chain ${link === undefined ? `rule ${rule}` : link}`,
      domainId,
      links: link === undefined ? [] : [link],
      rules: rule === undefined ? [] : [rule],
      witness: canonical,
      via: way.via,
      end: way.end,
      endStatus: way.status,
    },
  }
}

/** Addresses that stand for a rule when its ways are followed: the shortest that are its own. */
export function sampleAddresses(state: SurveyState, ruleId: number, most = 4): string[] {
  const rule = state.rules.get(ruleId)
  if (!rule) return []
  const { rules, family } = state.rulesOf(rule.domainId)
  const index = rules.findIndex(({ id }) => id === ruleId)
  if (!family || index === -1) return []
  try {
    return witnesses(family, [index], [], most)
  } catch (error) {
    if (error instanceof PatternFault) return []
    throw error
  }
}
