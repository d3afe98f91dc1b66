import { toWire } from '../../address'
import { exampleVisitor, NOBODY, type Visitor } from '../../conditions'
import { PatternFault, witnesses } from '../../patterns'
import type { Finder, Touched } from '../finder'
import { follow } from '../../table'
import type { Conflict } from '../model'
import type { SurveyState } from '../state'

/** Where a way begins. */
interface Start {
  domainId: number
  canonical: string
  visitor: Visitor
}

/** The circle a way comes back to, told the same whoever leads into it: from its first address in the alphabet on. */
function circle(via: readonly string[], loopsTo: number): string[] {
  const inside = via.slice(loopsTo)
  const first = inside.indexOf([...inside].sort()[0]!)
  return [...inside.slice(first), ...inside.slice(0, first), inside[first]!]
}

/** What is wrong with a way: a loop, or a chain from its own answer to another of ours. */
function wayConflict(
  state: SurveyState,
  { domainId, canonical, visitor }: Start,
  subject: { link?: number; rule?: number },
): { conflict: Conflict | undefined; passed: string[] } {
  const target = toWire('/' + canonical) + (visitor.query === '' ? '' : '?' + visitor.query)
  const way = follow(state, state.domains.get(domainId)!.host, target, visitor)
  const unique = (ids: readonly number[]) => [...new Set(ids)].sort((a, b) => a - b)
  if (way.loopsTo !== undefined) {
    const via = circle(way.via, way.loopsTo)
    const slash = via[0]!.indexOf('/')
    return {
      passed: way.via,
      conflict: {
        kind: 'loop',
        key: `loop ${[...new Set(via)].sort().join(' ')}`,
        domainId: state.table.hosts.get(via[0]!.slice(0, slash))!.domain.id,
        links: unique(way.links),
        rules: unique(way.rules),
        witness: via[0]!.slice(slash + 1),
        via,
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

interface Ways {
  /** Whose ways are followed. */
  all(): Iterable<number>
  starts(id: number): Iterable<Start>
  subject(id: number): { link?: number; rule?: number }
  /** Which of what a change touched are of this sort. */
  touched(touched: Touched): Iterable<number>
  kinds: readonly Conflict['kind'][]
}

/** Follows ways and remembers which addresses each passes: whatever happens there concerns it. */
function finder(state: SurveyState, { all, starts, subject, touched: mine, kinds }: Ways): Finder<number> {
  const passing = new Map<string, Set<number>>()
  const passes = new Map<number, readonly string[]>()
  function forget(id: number): void {
    for (const address of passes.get(id) ?? []) {
      const ids = passing.get(address)
      ids?.delete(id)
      if (ids?.size === 0) passing.delete(address)
    }
    passes.delete(id)
  }
  function note(id: number, passed: ReadonlySet<string>): void {
    if (passed.size === 0) return
    passes.set(id, [...passed])
    for (const address of passed) {
      const ids = passing.get(address)
      if (ids) ids.add(id)
      else passing.set(address, new Set([id]))
    }
  }
  return {
    phase: 'ways',
    *all() {
      passing.clear()
      passes.clear()
      yield* all()
    },
    *affectedBy(touched) {
      for (const address of touched.addresses) yield* passing.get(address) ?? []
      yield* mine(touched)
      if (touched.prefixes.size > 0 || touched.domains.size > 0) yield* all()
    },
    *examine(id) {
      forget(id)
      const passed = new Set<string>()
      const found = new Map<string, Conflict>()
      for (const start of starts(id)) {
        const { conflict, passed: via } = wayConflict(state, start, subject(id))
        for (const address of via) passed.add(address)
        if (conflict && kinds.includes(conflict.kind) && !found.has(conflict.key)) found.set(conflict.key, conflict)
      }
      note(id, passed)
      yield* found.values()
    },
  }
}

/** Links that lead to an address of ours. */
export const waysOfLinks = (state: SurveyState): Finder<number> =>
  finder(state, {
    all: () => state.leads,
    *starts(id) {
      const link = state.links.get(id)
      if (link && state.leads.has(id) && link.canonical !== null)
        yield { domainId: link.domainId, canonical: link.canonical, visitor: NOBODY }
    },
    subject: (link) => ({ link }),
    touched: ({ links }) => links,
    kinds: ['loop', 'chain'],
  })

/** Rules that lead to an address of ours, by the shortest of their own addresses. */
export const waysOfRules = (state: SurveyState): Finder<number> =>
  finder(state, {
    all: () => state.rules.keys(),
    *starts(id) {
      const rule = state.rules.get(id)
      if (!rule?.active || !state.isOurs(rule.destination)) return
      for (const canonical of sampleAddresses(state, id))
        if (!state.table.domains.get(rule.domainId)!.links.has(canonical))
          yield { domainId: rule.domainId, canonical, visitor: exampleVisitor(rule.condition) }
    },
    subject: (rule) => ({ rule }),
    touched: ({ rules }) => rules,
    kinds: ['loop', 'chain'],
  })

/** Fallbacks of domains. One that leads on to another address of ours is as it should be; in a circle it is not. */
export const waysOfDomains = (state: SurveyState): Finder<number> =>
  finder(state, {
    all: () => state.domains.keys(),
    *starts(id) {
      const domain = state.domains.get(id)
      for (const [destination, canonical] of [
        [domain?.rootDestination, ''],
        [domain?.notFoundDestination, 'nobody-made-this-one'],
      ] as const)
        if (destination && state.isOurs(destination)) yield { domainId: id, canonical, visitor: NOBODY }
    },
    subject: () => ({}),
    touched: ({ domains }) => domains,
    kinds: ['loop'],
  })

/** Addresses that stand for a rule when its ways are followed: the shortest that are its own. */
function sampleAddresses(state: SurveyState, ruleId: number, most = 4): string[] {
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
