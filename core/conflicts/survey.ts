import type { SurveyDomain, SurveyLink, SurveyRule } from '../rows'
import type { Finder, Subject, Touched } from './finder'
import { FINDERS, twins, type FinderOf } from './finders'
import { Findings } from './findings'
import type { Conflict, ScanProgress, SurveyChange, SurveyDiff } from './model'
import { lookKey, readsOtherwise, SurveyState } from './state'
import { twinKey } from './twin-key'

/** How many subjects are examined between two tellings of how far a scan is. */
const SUBJECTS_A_STEP = 25

/**
 * The register as the finders see it, with every conflict in it. Loaded once and scanned, it is then kept current: a
 * change re-examines what it can affect and nothing else, and ends with the findings a full scan would give.
 */
export class Survey {
  readonly state: SurveyState
  /** The ledger's revision it stands at. */
  revision = 0
  /**
   * Links of changes to very many that are not taken in yet, each with the revision it changed at: whoever keeps the
   * survey takes them in step by step, so that nobody waits for all of them.
   */
  readonly behind = new Map<number, number>()
  private readonly findings = new Findings()
  private readonly finders: readonly Finder[]

  /** `finders`: those it asks; by default all there are. */
  constructor(finders: readonly FinderOf[] = FINDERS) {
    this.state = new SurveyState(finders.includes(twins))
    this.finders = finders.map((make) => make(this.state) as Finder)
  }

  /** Every conflict there is. */
  get conflicts(): IterableIterator<Conflict> {
    return this.findings[Symbol.iterator]()
  }
  get size(): number {
    return this.findings.size
  }
  conflict(key: string): Conflict | undefined {
    return this.findings.get(key)
  }

  /** Takes all rows in; `scan` must follow. */
  load(domains: Iterable<SurveyDomain>, links: Iterable<SurveyLink>, rules: Iterable<SurveyRule>, now: number): void {
    this.state.now = now
    for (const domain of domains) this.state.putDomain(domain)
    this.add(links)
    for (const rule of rules) this.state.rules.set(rule.id, rule)
    this.state.compileRules()
  }

  /**
   * Takes more links in while loading; those that forward must come after the links they forward to, or be put again.
   */
  add(links: Iterable<SurveyLink>): void {
    for (const link of links) this.state.putLink(link)
  }

  /**
   * Finds everything anew. Yields progress now and then, so that whoever drives it may let others run, tell it, or
   * stop.
   */
  *scan(): Generator<ScanProgress> {
    this.findings.clear()
    const total = this.state.links.size
    for (const [index, finder] of this.finders.entries()) {
      let done = 0
      const progress = () => ({ phase: finder.phase, done: Math.min(done, total), total })
      yield progress()
      if (finder.sweep) {
        for (const found of finder.sweep()) {
          if (found) this.findings.give(index, ...found)
          else {
            done++
            yield progress()
          }
        }
        continue
      }
      for (const subject of finder.all()) {
        if (++done % SUBJECTS_A_STEP === 0) yield progress()
        if (subject === undefined) continue
        for (const conflict of finder.examine(subject)) {
          if (conflict) this.findings.give(index, subject, conflict)
          else yield progress()
        }
      }
    }
  }

  /** Scans at one go. */
  scanAll(): void {
    for (const _ of this.scan());
  }

  /** Takes changed rows in and brings the findings up to date; tells what came and what went. */
  apply(change: SurveyChange): SurveyDiff {
    this.findings.begin()
    for (const { id } of change.links ?? []) this.behind.delete(id)
    for (const id of change.dropLinks ?? []) this.behind.delete(id)
    this.take(change)
    return this.findings.end()
  }

  /** Takes rows in that may yet be taken back; gives what takes them back, by another call. */
  lend(change: SurveyChange): SurveyChange {
    this.findings.begin()
    const inverse = this.take(change)
    this.findings.end()
    return inverse
  }

  /** What a change would do to the findings; leaves everything as it was. */
  preview(change: SurveyChange): SurveyDiff {
    this.findings.begin()
    const inverse = this.take(change)
    try {
      return this.findings.end()
    } finally {
      // Others compare with what is here, even if this comparison fails.
      this.take(inverse)
    }
  }

  /**
   * Whether a change reads addresses anew or judges all slugs of a domain: then it concerns every link there, and a
   * survey made from the start, step by step, holds others up less.
   */
  needsRescan({ domains = [] }: SurveyChange): boolean {
    return domains.some((domain) => {
      const before = this.state.domains.get(domain.id)
      return (
        before !== undefined &&
        (readsOtherwise(before, domain) || JSON.stringify(before.slugRules) !== JSON.stringify(domain.slugRules))
      )
    })
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
    const touched = touch(state, change)
    touched.note()
    const slugRulesBefore = new Map((change.domains ?? []).map(({ id }) => [id, state.domains.get(id)?.slugRules]))
    const inverse = state.putRows(change)
    try {
      touched.note()
      for (const { id, slugRules } of change.domains ?? [])
        if (JSON.stringify(slugRulesBefore.get(id)) !== JSON.stringify(slugRules)) touched.slugRules.add(id)
      for (const [index, finder] of this.finders.entries()) {
        const affected = new Set<Subject>(this.findings.mentioning(index, touched.links, touched.rules))
        for (const subject of finder.affectedBy(touched)) affected.add(subject)
        for (const subject of affected) {
          this.findings.withdraw(index, subject)
          for (const conflict of finder.examine(subject)) if (conflict) this.findings.give(index, subject, conflict)
        }
      }
    } catch (error) {
      // Rows that nobody may take back are not left behind.
      state.putRows(inverse)
      throw error
    }
    return inverse
  }
}

/** What a change touches; `note` adds how things stand at that moment. */
function touch(state: SurveyState, change: SurveyChange) {
  const touched = {
    links: new Set([...(change.links ?? []).map(({ id }) => id), ...(change.dropLinks ?? [])]),
    addresses: new Set<string>(),
    places: new Set<string>(),
    looks: new Set<string>(),
    readings: new Set<string>(),
    rules: new Set([...(change.rules ?? []).map(({ id }) => id), ...(change.dropRules ?? [])]),
    prefixes: new Map<number, Set<string>>(),
    domains: new Set([...(change.domains ?? []).map(({ id }) => id), ...(change.dropDomains ?? [])]),
    slugRules: new Set<number>(),
    note() {
      for (const id of [...reread(), ...leading()]) touched.links.add(id)
      for (const id of touched.links) noteLink(id)
      for (const id of touched.rules) noteRule(id)
    },
  } satisfies Touched & { note(): void }

  /** Links whose domain reads its addresses otherwise from now on. */
  function* reread(): Generator<number> {
    const domains = new Set(
      (change.domains ?? [])
        .filter((domain) => {
          const before = state.domains.get(domain.id)
          return before && readsOtherwise(before, domain)
        })
        .map(({ id }) => id),
    )
    if (domains.size > 0) for (const link of state.links.values()) if (domains.has(link.domainId)) yield link.id
  }
  /** Links that lead to a host which becomes ours, or no longer is. */
  function* leading(): Generator<number> {
    for (const { id, host } of change.domains ?? []) if (!state.domains.has(id)) yield* state.leadingTo(host)
    for (const id of change.dropDomains ?? []) yield* state.leadingTo(state.domains.get(id)?.host ?? '')
  }
  function noteLink(id: number): void {
    const link = state.links.get(id)
    if (!link) return
    if (link.canonical !== null) {
      touched.addresses.add(state.address(link.domainId, link.canonical))
      touched.looks.add(lookKey(link.domainId, link.canonical))
      touched.readings.add(state.readingOf(link)).add(`${link.domainId}/${link.canonical}`)
    }
    if (link.forwardsTo === null) touched.places.add(twinKey(link.destination))
    // A link's answer changes with it for every slug that forwards to it.
    for (const slug of state.forwards.get(id) ?? []) {
      const forwarding = state.links.get(slug)!
      if (forwarding.canonical !== null) touched.addresses.add(state.address(forwarding.domainId, forwarding.canonical))
    }
  }
  function noteRule(id: number): void {
    const rule = state.rules.get(id)
    if (!rule) return
    const compiled = state.table.domains.get(rule.domainId)?.rules.rules.find(({ row }) => row.id === id)
    const begins = touched.prefixes.get(rule.domainId) ?? new Set()
    touched.prefixes.set(rule.domainId, begins)
    if (compiled) begins.add(compiled.prefix.slice(1).replace(/\/$/, ''))
  }
  return touched
}
