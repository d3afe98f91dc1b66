import type { DomainRow } from '../rows/domain'
import type { LinkRow } from '../rows/link'
import type { RuleRow } from '../rows/rule'
import { compileEntry, type Entry } from './entry'
import { NearSlugs } from './near-slugs'
import { compileRule, samenessOf, type CompiledRule } from './rule'
import { NO_RULES, RuleIndex } from './rule-index'

/** One domain's part of the table. */
export interface DomainTable {
  domain: DomainRow
  /** Exact links by canonical slug. */
  links: Map<string, Entry>
  /** Rules in their order; first match wins. */
  rules: RuleIndex
  /** Slugs by what they fold to, while forgiveness needs it. */
  near: NearSlugs | undefined
}

/** Everything the gateway answers from. */
export interface Table {
  /** The ledger's revision this table stands at. */
  revision: number
  hosts: Map<string, DomainTable>
  domains: Map<number, DomainTable>
}

/** A table with no domains, at revision 0. */
export function emptyTable(): Table {
  return { revision: 0, hosts: new Map(), domains: new Map() }
}

/** Compiles a whole table. Links and rules of unknown domains are left out. */
export function compile(
  domains: Iterable<DomainRow>,
  links: Iterable<LinkRow>,
  revision = 0,
  rules: Iterable<RuleRow> = [],
): Table {
  const table = emptyTable()
  for (const domain of domains) putDomain(table, domain)
  for (const link of links) putLink(table, link)
  putRules(table, rules)
  table.revision = revision
  return table
}

/**
 * Adds a domain or replaces its row. Its links stay: a caller that changed how slugs are read must clear them
 * and put them again under their new canonical forms.
 */
export function putDomain(table: Table, domain: DomainRow): void {
  const before = table.domains.get(domain.id)
  if (before && before.domain.host !== domain.host) table.hosts.delete(before.domain.host)
  const part: DomainTable = {
    domain,
    links: before?.links ?? new Map(),
    rules: before?.rules ?? NO_RULES,
    near: before?.near,
  }
  const { capitals, lookAlikes } = domain.forgiveness
  const was = before?.domain.forgiveness
  if (!capitals && !lookAlikes) part.near = undefined
  else if (!part.near || was?.capitals !== capitals || was.lookAlikes !== lookAlikes)
    part.near = new NearSlugs(domain.forgiveness, part.links.keys())
  table.domains.set(domain.id, part)
  table.hosts.set(domain.host, part)
}

/** Adds or replaces one link under its canonical slug. */
export function putLink(table: Table, link: LinkRow): void {
  const part = table.domains.get(link.domainId)
  part?.links.set(link.canonical, compileEntry(link))
  part?.near?.add(link.canonical)
}

/** Takes one canonical slug out. */
export function dropLink(table: Table, domainId: number, canonical: string): void {
  const part = table.domains.get(domainId)
  part?.links.delete(canonical)
  part?.near?.remove(canonical)
}

/** Replaces all rules of all domains; one that cannot be read is left out, as it could take nothing. */
export function putRules(table: Table, rules: Iterable<RuleRow>): void {
  const known = new Map(
    [...table.domains.values()].flatMap((part) => part.rules.rules.map((rule) => [rule.row.id, rule] as const)),
  )
  const compiled = new Map<DomainTable, CompiledRule[]>()
  for (const row of [...rules].sort((a, b) => a.position - b.position || a.id - b.id)) {
    const part = table.domains.get(row.domainId)
    const before = known.get(row.id)
    // Most rules are as they were, but for their place.
    const same =
      part &&
      before?.sameness === samenessOf(part.domain) &&
      JSON.stringify({ ...before.row, position: 0 }) === JSON.stringify({ ...row, position: 0 })
    const rule = part && (same ? { ...before, row } : compileRule(row, part.domain))
    if (rule) compiled.set(part, [...(compiled.get(part) ?? []), rule])
  }
  for (const part of table.domains.values())
    part.rules = compiled.has(part) ? new RuleIndex(compiled.get(part)!) : NO_RULES
}

/** How many links the table holds, over all domains. */
export function countLinks(table: Table): number {
  let count = 0
  for (const part of table.domains.values()) count += part.links.size
  return count
}
