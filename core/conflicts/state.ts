import { canonicalSlug, destinationKey } from '../address'
import { compileFamily, readPattern, type Comparison, type Family } from '../patterns'
import { lookAlikeKey } from '../slugs'
import {
  dropLink,
  emptyTable,
  exceptedSlugs,
  followOn,
  hostIn,
  isOnHosts,
  putDomain,
  putLink,
  putRules,
  standingAt,
  type Table,
} from '../table'
import type { LinkRow, SurveyDomain, SurveyLink, SurveyRule } from '../rows'
import { DomainSlips } from './domain-slips'
import { IdGroups } from './id-groups'
import { addId, removeId } from './id-sets'
import type { SurveyChange } from './model'
import { twinKey } from './twin-key'

/** The rules of one domain that are switched on, in their order, as automata. */
export interface CompiledRules {
  rules: SurveyRule[]
  family: Family | undefined
}

/** All that finders look at: rows, the gateway's own table of them, and indices. Changes go through `putRows`. */
export class SurveyState {
  readonly domains = new Map<number, SurveyDomain>()
  readonly links = new Map<number, SurveyLink>()
  readonly rules = new Map<number, SurveyRule>()
  readonly table: Table = emptyTable()
  /** Links of a domain by what they look like. */
  readonly looks = new IdGroups()
  /** Links by the place they lead to. */
  readonly places = new IdGroups()
  /** Links whose slug, read as typed, would have another address than theirs, by that address. */
  readonly readings = new IdGroups()
  /** Links by the hosts they lead to. */
  private readonly hosts = new Map<string, Set<number>>()
  /** What may be one slip away, by domain. */
  readonly slips = new Map<number, DomainSlips>()
  /** Links whose destination is on one of our hosts. */
  readonly leads = new Set<number>()
  /** Links with dates, whose standing changes by itself. */
  readonly dated = new Set<number>()
  /** Slugs that forward to a link. */
  readonly forwards = new Map<number, Set<number>>()
  /** How pairs of patterns stand to each other. */
  readonly comparisons = new Map<string, Comparison>()
  /** Addresses that alone are left to a rule: links at all of them would hide it. */
  readonly decisive = new Set<string>()
  private readonly compiled = new Map<number, CompiledRules>()
  now = 0

  /** `withPlaces`: whether it keeps links by the place they lead to. */
  constructor(private readonly withPlaces = true) {}

  /** The row that answers: a link's own, or for a forwarding slug its address with its link's answer. */
  effective(link: SurveyLink): LinkRow | undefined {
    if (link.canonical === null) return undefined
    if (link.forwardsTo === null) return link as LinkRow
    const leader = this.links.get(link.forwardsTo)
    return (
      leader && {
        ...leader,
        id: link.id,
        domainId: link.domainId,
        slug: link.slug,
        canonical: link.canonical,
        forwardsTo: link.forwardsTo,
      }
    )
  }

  /** Whether a link is one of its own that answers now or will. */
  counts(link: SurveyLink | undefined): link is SurveyLink & { canonical: string } {
    if (!link || link.canonical === null || link.forwardsTo !== null) return false
    const standing = standingAt(link, this.now)
    return standing === 'live' || standing === 'scheduled' || standing === 'paused'
  }

  isLive(link: SurveyLink | undefined): link is SurveyLink & { canonical: string } {
    return (
      link !== undefined && link.canonical !== null && link.forwardsTo === null && standingAt(link, this.now) === 'live'
    )
  }

  putDomain(domain: SurveyDomain): void {
    const before = this.domains.get(domain.id)
    const reread = before && readsOtherwise(before, domain)
    const mine = reread ? [...this.links.values()].filter((link) => link.domainId === domain.id) : []
    for (const link of mine) this.forgetReading(link)
    this.domains.set(domain.id, domain)
    for (const link of mine) this.noteReading(link)
    for (const id of this.leadingTo(domain.host)) this.leads.add(id)
    putDomain(this.table, { ...domain, open: true })
    this.compiled.delete(domain.id)
  }

  /** Takes a domain without links and rules out again. */
  dropDomain(id: number): void {
    const domain = this.domains.get(id)
    if (!domain) return
    this.domains.delete(id)
    this.compiled.delete(id)
    this.table.domains.delete(id)
    this.table.hosts.delete(domain.host)
    for (const link of this.leadingTo(domain.host))
      if (!hostsOf(this.links.get(link)!).some((host) => this.table.hosts.has(host))) this.leads.delete(link)
  }

  /** Links that lead to a host, in whatever standing. */
  leadingTo(host: string): Iterable<number> {
    return this.hosts.get(host) ?? []
  }

  /** The address a link's slug would have, read as typed: `domain/canonical`. */
  readingOf(link: SurveyLink): string {
    const reading = canonicalSlug(link.slug, this.domains.get(link.domainId)!)
    return `${link.domainId}/${reading ?? link.canonical ?? ''}`
  }

  private noteReading(link: SurveyLink): void {
    if (link.canonical === null) return
    const reading = this.readingOf(link)
    if (reading !== `${link.domainId}/${link.canonical}`) this.readings.add(reading, link.id)
  }
  private forgetReading(link: SurveyLink): void {
    if (link.canonical !== null) this.readings.remove(this.readingOf(link), link.id)
  }

  putLink(link: SurveyLink): void {
    this.dropLink(link.id)
    this.links.set(link.id, link)
    const row = this.effective(link)
    if (row) putLink(this.table, row)
    this.noteReading(link)
    if (link.forwardsTo !== null) addId(this.forwards, link.forwardsTo, link.id)
    else {
      if (link.canonical !== null) {
        this.looks.add(lookKey(link.domainId, link.canonical), link.id)
        let slips = this.slips.get(link.domainId)
        if (!slips) this.slips.set(link.domainId, (slips = new DomainSlips()))
        slips.add(link.canonical)
      }
      if (this.withPlaces) this.places.add(twinKey(link.destination), link.id)
      for (const host of hostsOf(link)) {
        addId(this.hosts, host, link.id)
        if (this.table.hosts.has(host)) this.leads.add(link.id)
      }
      for (const slug of this.forwards.get(link.id) ?? []) {
        const forwarding = this.effective(this.links.get(slug)!)
        if (forwarding) putLink(this.table, forwarding)
      }
    }
    if (link.startsAt !== null || link.endsAt !== null || link.resumesAt !== null) this.dated.add(link.id)
  }

  dropLink(id: number): void {
    const link = this.links.get(id)
    if (!link) return
    this.links.delete(id)
    if (link.canonical !== null && this.table.domains.get(link.domainId)?.links.get(link.canonical)?.id === id)
      dropLink(this.table, link.domainId, link.canonical)
    this.forgetReading(link)
    if (link.forwardsTo !== null) removeId(this.forwards, link.forwardsTo, id)
    else {
      for (const host of hostsOf(link)) removeId(this.hosts, host, id)
      if (link.canonical !== null) this.looks.remove(lookKey(link.domainId, link.canonical), id)
      if (this.withPlaces) this.places.remove(twinKey(link.destination), id)
    }
    this.leads.delete(id)
    this.dated.delete(id)
  }

  /** Puts a change's rows in place. Gives the change that would take them back. */
  putRows(change: SurveyChange): SurveyChange {
    const inverse = {
      domains: [] as SurveyDomain[],
      dropDomains: [] as number[],
      links: [] as SurveyLink[],
      dropLinks: [] as number[],
      rules: [] as SurveyRule[],
      dropRules: [] as number[],
    }
    const keep = <Row>(before: Row | undefined, id: number, rows: Row[], gone: number[]) =>
      before ? rows.push(before) : gone.push(id)
    for (const domain of change.domains ?? []) {
      keep(this.domains.get(domain.id), domain.id, inverse.domains, inverse.dropDomains)
      this.putDomain(domain)
    }
    for (const id of change.dropDomains ?? []) {
      const before = this.domains.get(id)
      if (before) inverse.domains.push(before)
      this.dropDomain(id)
    }
    // Those that give an address up come before those that take it.
    for (const id of change.dropLinks ?? []) {
      const before = this.links.get(id)
      if (before) inverse.links.push(before)
      this.dropLink(id)
    }
    for (const link of change.links ?? []) {
      keep(this.links.get(link.id), link.id, inverse.links, inverse.dropLinks)
      this.dropLink(link.id)
    }
    for (const link of [...(change.links ?? [])].sort(
      (a, b) => Number(a.forwardsTo !== null) - Number(b.forwardsTo !== null),
    ))
      this.putLink(link)
    for (const id of change.dropRules ?? []) {
      const before = this.rules.get(id)
      if (before) inverse.rules.push(before)
      this.rules.delete(id)
    }
    for (const rule of change.rules ?? []) {
      keep(this.rules.get(rule.id), rule.id, inverse.rules, inverse.dropRules)
      this.rules.set(rule.id, rule)
    }
    const ruled = [...inverse.rules, ...(change.rules ?? [])].map(({ domainId }) => domainId)
    if (ruled.length > 0 || (change.domains?.length ?? 0) > 0) this.compileRules(new Set(ruled))
    return inverse
  }

  /**
   * Brings the table's rules in line with the rows; those of `domains`, or of all, are proved anew when next asked for.
   */
  compileRules(domains: Iterable<number> = this.domains.keys()): void {
    putRules(
      this.table,
      [...this.rules.values()].filter((rule) => rule.active),
    )
    for (const domain of domains) this.compiled.delete(domain)
  }

  /** A domain's active rules in order, compiled together; without automata where one of them is too involved. */
  rulesOf(domainId: number): CompiledRules {
    let known = this.compiled.get(domainId)
    if (!known) {
      const domain = this.domains.get(domainId)!
      const taken = new Set(this.table.domains.get(domainId)?.rules.rules.map((rule) => rule.row.id))
      const rules = [...this.rules.values()]
        .filter((rule) => taken.has(rule.id))
        .sort((a, b) => a.position - b.position || a.id - b.id)
      const compared = rules.map((rule) => {
        const reading = readPattern(rule.syntax, rule.pattern, !domain.capitalsMatter)
        return reading.ok ? { pattern: reading.pattern, except: exceptedSlugs(rule.except, domain) } : undefined
      })
      const reading = compared.every((one) => one !== undefined) ? compileFamily(compared, domain) : undefined
      known = { rules, family: reading?.ok ? reading.family : undefined }
      this.compiled.set(domainId, known)
    }
    return known
  }

  /** Whether a destination is on one of our hosts. */
  isOurs(destination: string): boolean {
    return isOnHosts(this.table, destination)
  }

  /** The links a destination passes on our own hosts; for a slug that forwards, the link behind it. */
  passedFrom(destination: string): number[] {
    return (followOn(this, destination)?.links ?? []).map((id) => this.links.get(id)?.forwardsTo ?? id)
  }

  address(domainId: number, canonical: string): string {
    return `${this.domains.get(domainId)?.host ?? ''}/${canonical}`
  }
}

/** The hosts a link can lead to. */
function hostsOf({ destination, endedDestination }: SurveyLink): string[] {
  const host = hostIn(destination)
  const afterwards = endedDestination === null ? undefined : hostIn(endedDestination)
  return [host, afterwards === host ? undefined : afterwards].filter((one) => one !== undefined)
}

export const lookKey = (domainId: number, canonical: string): string => `${domainId}/${lookAlikeKey(canonical)}`

/** Whether two links lead to different places. */
export const differ = (a: SurveyLink, b: SurveyLink): boolean =>
  a.destination !== b.destination && destinationKey(a.destination) !== destinationKey(b.destination)

/** Whether two states of a domain read its addresses differently. */
export const readsOtherwise = (a: SurveyDomain, b: SurveyDomain): boolean =>
  a.capitalsMatter !== b.capitalsMatter || a.trailingSlashMatters !== b.trailingSlashMatters
