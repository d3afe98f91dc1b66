import { exampleQuery, readCondition } from '../patterns'
import { Findings } from './findings'
import type { Conflict, ScanProgress, SurveyChange, SurveyDiff, SurveyDomain, SurveyLink, SurveyRule } from './model'
import { allLookAlikes, allSlips, MOST_PAIRS, pairsAround, ruleBreaker, sameAddresses, twins } from './pairs'
import { familyConflict, rivalRule, ruleConflicts } from './rule-findings'
import { SurveyState } from './state'
import { twinKey } from './twin-key'
import { sampleAddresses, wayConflict } from './ways'

/**
 * The register as the finders see it, with every conflict in it. Loaded once and scanned, it is then kept current: a
 * change re-examines what it can affect and nothing else, and ends with the findings a full scan would give.
 */
export class Survey {
  readonly state = new SurveyState()
  /** The ledger's revision it stands at. */
  revision = 0
  private readonly findings = new Findings()
  /** Links that lead elsewhere than the rule that would serve them, by that rule. */
  private readonly families = new Map<number, Set<number>>()
  private readonly familyOf = new Map<number, number>()
  /** Who passes an address on its way. */
  private readonly passing = new Map<string, Set<string>>()
  private readonly passes = new Map<string, string[]>()

  /** Every conflict there is. */
  get conflicts(): IterableIterator<Conflict> {
    return this.findings.found.values()
  }
  get size(): number {
    return this.findings.found.size
  }
  conflict(key: string): Conflict | undefined {
    return this.findings.found.get(key)
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
    this.findings.clear()
    for (const map of [this.families, this.familyOf, this.passing, this.passes]) map.clear()
    const { state } = this
    const total = state.links.size
    yield { phase: 'links', done: 0, total }
    for (const conflict of sameAddresses(state)) this.findings.give('addresses', conflict)
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
        else if (++kept <= MOST_PAIRS) this.findings.putPair(step)
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
    this.findings.begin()
    this.take(change)
    return this.findings.end()
  }

  /** What a change would do to the findings; leaves everything as it was. */
  preview(change: SurveyChange): SurveyDiff {
    this.findings.begin()
    const inverse = this.take(change)
    const diff = this.findings.end()
    this.take(inverse)
    return diff
  }

  /** Moves on to a moment: links whose dates have come since are re-examined. */
  advance(now: number): SurveyDiff {
    const before = this.state.now
    const came = [...this.state.dated]
      .map((id) => this.state.links.get(id)!)
      .filter((link) =>
        [link.startsAt, link.endsAt, link.resumesAt].some((at) => at !== null && at > before && at <= now),
      )
    this.state.now = now
    return came.length > 0 ? this.apply({ links: came }) : { added: [], removed: [], changed: [] }
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
      return (
        !before ||
        before.host !== domain.host ||
        before.capitalsMatter !== domain.capitalsMatter ||
        before.trailingSlashMatters !== domain.trailingSlashMatters
      )
    })
    if (hostsChanged) {
      this.rescan()
      return inverse
    }
    for (const domain of change.domains ?? []) {
      const before = inverse.domains!.find(({ id }) => id === domain.id)
      if (JSON.stringify(before?.slugRules) !== JSON.stringify(domain.slugRules))
        for (const link of state.links.values()) if (link.domainId === domain.id) this.examineBreaker(link)
    }
    const families = new Set<number>()
    for (const id of touched) {
      const link = state.links.get(id)
      this.findings.dropPairs(id)
      this.findings.withdraw(`breaker ${id}`)
      const before = this.familyOf.get(id)
      if (before !== undefined) families.add(before)
      this.leaveFamily(id)
      if (!link) {
        this.examineWay(`way l${id}`)
        continue
      }
      this.examineBreaker(link)
      for (const conflict of pairsAround(state, link)) this.findings.putPair(conflict)
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
        if (
          link.domainId !== domainId ||
          link.canonical === null ||
          !begins.some((prefix) => link.canonical!.startsWith(prefix))
        )
          continue
        const before = this.familyOf.get(link.id)
        this.leaveFamily(link.id)
        this.joinFamily(link)
        for (const rule of [before, this.familyOf.get(link.id)]) if (rule !== undefined) families.add(rule)
      }
    }
    for (const id of changedRules) families.add(id)
    for (const rule of families) this.examineFamily(rule)
    // Links may be all that is left to a rule.
    const hiding = new Set(
      [...addresses]
        .filter((address) => state.decisive.has(address))
        .map((address) => state.table.hosts.get(address.slice(0, address.indexOf('/')))!.domain.id),
    )
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
    const before = new Map(this.findings.found)
    this.scanAll()
    this.findings.replaced(before)
  }

  private examineBreaker(link: SurveyLink): void {
    this.findings.withdraw(`breaker ${link.id}`)
    const breaker = ruleBreaker(this.state, link)
    if (breaker) this.findings.give(`breaker ${link.id}`, breaker)
  }
  private examineAddresses(touched: ReadonlySet<number>): void {
    // The database lets no two rows have one address; what a scan found of rows that changed since is over.
    this.findings.withdrawWhere('addresses', (conflict) => conflict.links.some((id) => touched.has(id)))
  }
  private examinePlace(place: string): void {
    this.findings.withdraw(`place ${place}`)
    const conflict = twins(this.state, place)
    if (conflict) this.findings.give(`place ${place}`, conflict)
  }
  private examineRules(domainId: number): void {
    this.findings.withdraw(`rules ${domainId}`)
    for (const conflict of ruleConflicts(this.state, domainId)) this.findings.give(`rules ${domainId}`, conflict)
  }
  private examineFamily(ruleId: number): void {
    this.findings.withdraw(`family ${ruleId}`)
    const rule = this.state.rules.get(ruleId)
    const conflict = rule && familyConflict(this.state, rule, [...(this.families.get(ruleId) ?? [])])
    if (conflict) this.findings.give(`family ${ruleId}`, conflict)
  }
  private examineWay(way: string): void {
    this.findings.withdraw(way)
    for (const address of this.passes.get(way) ?? []) this.passing.get(address)?.delete(way)
    this.passes.delete(way)
    const passed = new Set<string>()
    for (const { domainId, canonical, subject, query } of this.begins(way)) {
      const { conflict, passed: via } = wayConflict(this.state, domainId, canonical, subject, query)
      for (const address of via) passed.add(address)
      // A domain's fallback that leads on to another address is as it should be; in a circle it is not.
      if (conflict && (way[4] !== 'd' || conflict.kind === 'loop')) this.findings.give(way, conflict)
    }
    if (passed.size === 0) return
    this.passes.set(way, [...passed])
    for (const address of passed) {
      const set = this.passing.get(address)
      if (set) set.add(way)
      else this.passing.set(address, new Set([way]))
    }
  }
  private *begins(
    way: string,
  ): Generator<{ domainId: number; canonical: string; subject: { link?: number; rule?: number }; query?: string }> {
    const { state } = this
    const id = Number(way.slice(5))
    if (way[4] === 'l') {
      const link = state.links.get(id)
      if (link && state.leads.has(id) && link.canonical !== null)
        yield { domainId: link.domainId, canonical: link.canonical, subject: { link: id } }
    } else if (way[4] === 'r') {
      const rule = state.rules.get(id)
      if (rule?.active && state.isOurs(rule.destination)) {
        for (const canonical of sampleAddresses(state, id)) {
          if (!state.table.domains.get(rule.domainId)!.links.has(canonical))
            yield {
              domainId: rule.domainId,
              canonical,
              subject: { rule: id },
              query: exampleQuery(readCondition(rule.queryMode, rule.queryText)),
            }
        }
      }
    } else {
      const domain = state.domains.get(id)
      for (const destination of [domain?.rootDestination, domain?.notFoundDestination]) {
        if (domain && destination && state.isOurs(destination))
          yield {
            domainId: id,
            canonical: destination === domain.rootDestination ? '' : 'nobody-made-this-one',
            subject: {},
          }
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
}
