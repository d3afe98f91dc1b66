import type { DomainRow, LinkRow } from './rows'
import { compileEntry, type Entry } from './entry'

/** A redirect rule for a whole family of addresses; asked, in order, after the exact links. */
export interface CompiledRule {
  id: number
  /** The entry for a canonical slug and query, or `undefined` where the rule does not take it. */
  take(canonical: string, query: string): Entry | undefined
}

/** One domain's part of the table. */
export interface DomainTable {
  domain: DomainRow
  /** Exact links by canonical slug. */
  links: Map<string, Entry>
  /** Rules in their order; first match wins. */
  rules: CompiledRule[]
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

/** Compiles a whole table. Links of unknown domains are left out. */
export function compile(domains: Iterable<DomainRow>, links: Iterable<LinkRow>, revision = 0): Table {
  const table = emptyTable()
  for (const domain of domains) putDomain(table, domain)
  for (const link of links) putLink(table, link)
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
  const part: DomainTable = { domain, links: before?.links ?? new Map(), rules: before?.rules ?? [] }
  table.domains.set(domain.id, part)
  table.hosts.set(domain.host, part)
}

/** Adds or replaces one link under its canonical slug. */
export function putLink(table: Table, link: LinkRow): void {
  table.domains.get(link.domainId)?.links.set(link.canonical, compileEntry(link))
}

/** Takes one canonical slug out. */
export function dropLink(table: Table, domainId: number, canonical: string): void {
  table.domains.get(domainId)?.links.delete(canonical)
}

/** How many links the table holds, over all domains. */
export function countLinks(table: Table): number {
  let count = 0
  for (const part of table.domains.values()) count += part.links.size
  return count
}
