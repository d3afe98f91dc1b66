import { exampleQuery, readCondition } from '../patterns'
import type { Conflict, ScanProgress, SurveyChange, SurveyDiff, SurveyDomain, SurveyLink, SurveyRule } from './model'
import { allLookAlikes, allSlips, MOST_PAIRS, pairsAround, ruleBreaker, sameAddresses, twins } from './pairs'
import { familyConflict, rivalRule, ruleConflicts } from './rule-findings'
import { SurveyState } from './state'
import { twinKey } from './twin-key'
import { sampleAddresses, wayConflict } from './ways'

const PAIR_KINDS = new Set<Conflict['kind']>(['look-alike', 'one-slip'])

/**
 * The register as the finders see it, with every conflict in it. Loaded once and scanned, it is then kept current: a
 * change re-examines what it can affect and nothing else, and ends with the findings a full scan would give.
 */
export class Survey {
  readonly state = new SurveyState()
  /** The ledger's revision it stands at. */
  revision = 0
  private readonly found = new Map<string, Conflict>()
  /** Whose re-examination gives a finding: it goes when none of them gives it any more. */
  private readonly givers = new Map<string, Set<string>>()
  private readonly given = new Map<string, Set<string>>()
  /** Keys of the pairs a link is part of. */
  private readonly pairs = new Map<number, Set<string>>()
  /** Links that lead elsewhere than the rule that would serve them, by that rule. */
  private readonly families = new Map<number, Set<number>>()
  private readonly familyOf = new Map<number, number>()
  /** Who passes an address on its way. */
  private readonly passing = new Map<string, Set<string>>()
  private readonly passes = new Map<string, string[]>()
  private journal: Map<string, Conflict | undefined> | undefined

  /** Every conflict there is. */
  get conflicts(): IterableIterator<Conflict> {
    return this.found.values()
  }
  get size(): number {
    return this.found.size
  }
  conflict(key: string): Conflict | undefined {
    return this.found.get(key)
  }

  /** Takes all rows in; `scan` must follow. */
  load(domains: Iterable<SurveyDomain>, links: Iterable<SurveyLink>, rules: Iterable<SurveyRule>, now: number): void {
    this.state.now = now
    for (const domain of domains) this.state.putDomain(domain)
    this.add(links)
    for (const rule of rules) this.state.rules.set(rule.id, rule)
    this.state.compileRules()
  }

  /** Takes more links in while loading; those that forward must come after the links they forward to, or be put again. */
  add(links: Iterable<SurveyLink>): void {
    for (const link of links) this.state.putLink(link)
  }

  /** Finds everything anew. Yields progress now and then, so that whoever drives it may breathe, tell it, or stop. */
  *scan(): Generator<ScanProgress> {
    for (const map of [this.found, this.givers, this.given, this.pairs, this.families, this.familyOf, this.passing, this.passes]) map.clear()
    const { state } = this
    const total = state.links.size
    yield { phase: 'links', done: 0, total }
    for (const conflict of sameAddresses(state)) this.give('addresses', conflict)
    yield { phase: 'links', done: 0, total }
    let done = 0
    for (const link of state.links.values()) {
      this.examineBreaker(link)
      this.joinFamily(link)
      if (++done % 500 === 0) yield { phase: 'links', done, total }
    }
    for (const all of [allLookAlikes, allSlips]) {
      let kept = 0
      for (const step of all(state)) {
        if ('phase' in step) yield step
        else if (++kept <= MOST_PAIRS) this.putPair(step)
      }
    }
    done = 0
    for (const place of state.places.keys()) {
      this.examinePlace(place)
      if (++done % 2000 === 0) yield { phase: 'twins', done, total: state.places.size }
    }
    done = 0
    for (const domainId of state.domains.keys()) {
      this.examineRules(domainId)
      yield { phase: 'rules', done: ++done, total: state.domains.size }
    }
    done = 0
    for (const rule of state.rules.values()) {
      this.examineFamily(rule.id)
      if (++done % 10 === 0) yield { phase: 'families', done, total: state.rules.size }
    }
    done = 0
    for (const id of state.leads) {
      this.examineWay(`way l${id}`)
      if (++done % 500 === 0) yield { phase: 'ways', done, total: state.leads.size }
    }
    for (const rule of state.rules.values()) this.examineWay(`way r${rule.id}`)
    for (const domain of state.domains.values()) this.examineWay(`way d${domain.id}`)
  }

  /** Scans at one go. */
  scanAll(): void {
    for (const _ of this.scan());
  }

  /** Takes changed rows in and brings the findings up to date; tells what came and what went. */
  apply(change: SurveyChange): SurveyDiff {
    this.journal = new Map()
    this.take(change)
    return this.close()
  }

  /** What a change would do to the findings; leaves everything as it was. */
  preview(change: SurveyChange): SurveyDiff {
    this.journal = new Map()
    const inverse = this.take(change)
    const diff = this.close()
    this.take(inverse)
    return diff
  }

  /** Moves on to a moment: links whose dates have come since are re-examined. */
  advance(now: number): SurveyDiff {
    const before = this.state.now
    const came = [...this.state.dated].map((id) => this.state.links.get(id)!).filter((link) => [link.startsAt, link.endsAt, link.resumesAt].some((at) => at !== null && at > before && at <= now))
    this.state.now = now
    return came.length > 0 ? this.apply({ links: came }) : { added: [], removed: [], changed: [] }
  }

  private close(): SurveyDiff {
    const diff: SurveyDiff = { added: [], removed: [], changed: [] }
    for (const [key, before] of this.journal!) {
      const now = this.found.get(key)
      if (now && !before) diff.added.push(now)
      if (before && !now) diff.removed.push(before)
      if (before && now && JSON.stringify(before) !== JSON.stringify(now)) diff.changed.push({ before, now })
    }
    this.journal = undefined
    return diff
  }

  private take(change: SurveyChange): SurveyChange {
    const { state } = this
    const touched = new Set([...(change.links ?? []).map(({ id }) => id), ...(change.dropLinks ?? [])])
    // A link's answer changes with it for every slug that forwards to it; all of their addresses count as touched.
    const addresses = new Set<string>()
    const places = new Set<string>()
    const note = () => {
      for (const id of touched) {
        const link = state.links.get(id)
        if (!link) continue
        if (link.canonical !== null) addresses.add(state.address(link.domainId, link.canonical))
        if (link.forwardsTo === null) places.add(twinKey(link.destination))
        for (const slug of state.forwards.get(id) ?? []) {
          const forwarding = state.links.get(slug)!
          if (forwarding.canonical !== null) addresses.add(state.address(forwarding.domainId, forwarding.canonical))
        }
      }
    }
    // Domains whose rules changed, with the text that paths of the changed rules begin with, before and after.
    const ruled = new Map<number, Set<string>>()
    const changedRules = [...(change.rules ?? []).map(({ id }) => id), ...(change.dropRules ?? [])]
    const noteRules = () => {
      for (const id of changedRules) {
        const rule = state.rules.get(id)
        if (!rule) continue
        const compiled = state.table.domains.get(rule.domainId)?.rules.rules.find(({ row }) => row.id === id)
        if (!ruled.has(rule.domainId)) ruled.set(rule.domainId, new Set())
        if (compiled) ruled.get(rule.domainId)!.add(compiled.prefix.slice(1).replace(/\/$/, ''))
      }
    }
    note()
    noteRules()
    const inverse = state.putRows(change)
    note()
    noteRules()

    const hostsChanged = (change.domains ?? []).some((domain) => {
      const before = inverse.domains!.find(({ id }) => id === domain.id)
      return !before || before.host !== domain.host || before.capitalsMatter !== domain.capitalsMatter || before.trailingSlashMatters !== domain.trailingSlashMatters
    })
    if (hostsChanged) {
      this.rescan()
      return inverse
    }
    for (const domain of change.domains ?? []) {
      const before = inverse.domains!.find(({ id }) => id === domain.id)
      if (JSON.stringify(before?.slugRules) !== JSON.stringify(domain.slugRules)) for (const link of state.links.values()) if (link.domainId === domain.id) this.examineBreaker(link)
    }
    const families = new Set<number>()
    for (const id of touched) {
      const link = state.links.get(id)
      for (const key of [...(this.pairs.get(id) ?? [])]) this.dropPair(key)
      this.withdraw(`breaker ${id}`)
      const before = this.familyOf.get(id)
      if (before !== undefined) families.add(before)
      this.leaveFamily(id)
      if (!link) {
        this.examineWay(`way l${id}`)
        continue
      }
      this.examineBreaker(link)
      for (const conflict of pairsAround(state, link)) this.putPair(conflict)
      this.joinFamily(link)
      const now = this.familyOf.get(id)
      if (now !== undefined) families.add(now)
    }
    if (touched.size > 0) this.examineAddresses(touched)
    for (const place of places) this.examinePlace(place)
    for (const [domainId, prefixes] of ruled) {
      this.examineRules(domainId)
      const begins = [...prefixes]
      for (const link of state.links.values()) {
        if (link.domainId !== domainId || link.canonical === null || !begins.some((prefix) => link.canonical!.startsWith(prefix))) continue
        const before = this.familyOf.get(link.id)
        this.leaveFamily(link.id)
        this.joinFamily(link)
        for (const rule of [before, this.familyOf.get(link.id)]) if (rule !== undefined) families.add(rule)
      }
    }
    for (const id of changedRules) families.add(id)
    for (const rule of families) this.examineFamily(rule)
    // Links may be all that is left to a rule.
    const hiding = new Set([...addresses].filter((address) => state.decisive.has(address)).map((address) => state.table.hosts.get(address.slice(0, address.indexOf('/')))!.domain.id))
    for (const domainId of hiding) if (!ruled.has(domainId)) this.examineRules(domainId)
    const ways = new Set<string>()
    for (const address of addresses) for (const way of this.passing.get(address) ?? []) ways.add(way)
    for (const id of touched) ways.add(`way l${id}`)
    if (ruled.size > 0 || (change.domains?.length ?? 0) > 0 || (change.dropRules?.length ?? 0) > 0) {
      for (const id of state.leads) ways.add(`way l${id}`)
      for (const id of state.rules.keys()) ways.add(`way r${id}`)
      for (const id of [...(change.dropRules ?? [])]) ways.add(`way r${id}`)
      for (const id of state.domains.keys()) ways.add(`way d${id}`)
    }
    for (const way of ways) this.examineWay(way)
    return inverse
  }

  private rescan(): void {
    const before = new Map(this.found)
    this.scanAll()
    for (const key of new Set([...before.keys(), ...this.found.keys()])) if (!this.journal?.has(key)) this.journal?.set(key, before.get(key))
  }

  private examineBreaker(link: SurveyLink): void {
    this.withdraw(`breaker ${link.id}`)
    const breaker = ruleBreaker(this.state, link)
    if (breaker) this.give(`breaker ${link.id}`, breaker)
  }
  private examineAddresses(touched: ReadonlySet<number>): void {
    // The database lets no two rows have one address; what a scan found of rows that changed since is over.
    for (const key of [...(this.given.get('addresses') ?? [])]) if (this.found.get(key)!.links.some((id) => touched.has(id))) this.withdrawOne('addresses', key)
  }
  private examinePlace(place: string): void {
    this.withdraw(`place ${place}`)
    const conflict = twins(this.state, place)
    if (conflict) this.give(`place ${place}`, conflict)
  }
  private examineRules(domainId: number): void {
    this.withdraw(`rules ${domainId}`)
    for (const conflict of ruleConflicts(this.state, domainId)) this.give(`rules ${domainId}`, conflict)
  }
  private examineFamily(ruleId: number): void {
    this.withdraw(`family ${ruleId}`)
    const rule = this.state.rules.get(ruleId)
    const conflict = rule && familyConflict(this.state, rule, [...(this.families.get(ruleId) ?? [])])
    if (conflict) this.give(`family ${ruleId}`, conflict)
  }
  private examineWay(way: string): void {
    this.withdraw(way)
    for (const address of this.passes.get(way) ?? []) this.passing.get(address)?.delete(way)
    this.passes.delete(way)
    const passed = new Set<string>()
    for (const { domainId, canonical, subject, query } of this.begins(way)) {
      const { conflict, passed: via } = wayConflict(this.state, domainId, canonical, subject, query)
      for (const address of via) passed.add(address)
      // A domain's fallback that leads on to another address is as it should be; in a circle it is not.
      if (conflict && (way[4] !== 'd' || conflict.kind === 'loop')) this.give(way, conflict)
    }
    if (passed.size === 0) return
    this.passes.set(way, [...passed])
    for (const address of passed) {
      const set = this.passing.get(address)
      if (set) set.add(way)
      else this.passing.set(address, new Set([way]))
    }
  }
  private *begins(way: string): Generator<{ domainId: number; canonical: string; subject: { link?: number; rule?: number }; query?: string }> {
    const { state } = this
    const id = Number(way.slice(5))
    if (way[4] === 'l') {
      const link = state.links.get(id)
      if (link && state.leads.has(id) && link.canonical !== null) yield { domainId: link.domainId, canonical: link.canonical, subject: { link: id } }
    } else if (way[4] === 'r') {
      const rule = state.rules.get(id)
      if (rule?.active && state.isOurs(rule.destination)) {
        for (const canonical of sampleAddresses(state, id)) {
          if (!state.table.domains.get(rule.domainId)!.links.has(canonical)) yield { domainId: rule.domainId, canonical, subject: { rule: id }, query: exampleQuery(readCondition(rule.queryMode, rule.queryText)) }
        }
      }
    } else {
      const domain = state.domains.get(id)
      for (const destination of [domain?.rootDestination, domain?.notFoundDestination]) {
        if (domain && destination && state.isOurs(destination)) yield { domainId: id, canonical: destination === domain.rootDestination ? '' : 'nobody-made-this-one', subject: {} }
      }
    }
  }

  private joinFamily(link: SurveyLink): void {
    const rival = rivalRule(this.state, link)
    if (!rival) return
    this.familyOf.set(link.id, rival.id)
    const family = this.families.get(rival.id)
    if (family) family.add(link.id)
    else this.families.set(rival.id, new Set([link.id]))
  }
  private leaveFamily(id: number): void {
    const rule = this.familyOf.get(id)
    if (rule === undefined) return
    this.families.get(rule)?.delete(id)
    this.familyOf.delete(id)
  }

  private remember(key: string): void {
    if (this.journal && !this.journal.has(key)) this.journal.set(key, this.found.get(key))
  }
  private putPair(conflict: Conflict): void {
    this.remember(conflict.key)
    this.found.set(conflict.key, conflict)
    for (const id of conflict.links) {
      const keys = this.pairs.get(id)
      if (keys) keys.add(conflict.key)
      else this.pairs.set(id, new Set([conflict.key]))
    }
  }
  private dropPair(key: string): void {
    const conflict = this.found.get(key)
    if (!conflict || !PAIR_KINDS.has(conflict.kind)) return
    this.remember(key)
    this.found.delete(key)
    for (const id of conflict.links) this.pairs.get(id)?.delete(key)
  }
  private give(giver: string, conflict: Conflict): void {
    this.remember(conflict.key)
    this.found.set(conflict.key, conflict)
    for (const [map, from, to] of [[this.givers, conflict.key, giver], [this.given, giver, conflict.key]] as const) {
      const set = map.get(from)
      if (set) set.add(to)
      else map.set(from, new Set([to]))
    }
  }
  private withdraw(giver: string): void {
    for (const key of [...(this.given.get(giver) ?? [])]) this.withdrawOne(giver, key)
    this.given.delete(giver)
  }
  private withdrawOne(giver: string, key: string): void {
    this.given.get(giver)?.delete(key)
    const givers = this.givers.get(key)
    givers?.delete(giver)
    if (givers && givers.size > 0) return
    this.remember(key)
    this.givers.delete(key)
    this.found.delete(key)
  }
}
