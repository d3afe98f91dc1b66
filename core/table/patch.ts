import type { DomainRow } from '../rows/domain'
import type { LinkRow } from '../rows/link'
import type { RuleRow } from '../rows/rule'
import { dropLink, putDomain, putLink, putRules, type DomainTable, type Table } from './compile'
import { NearSlugs } from './near-slugs'

/** What makes another table of one: addresses that go, rows as they would be, and all rules where any changes. */
export interface TablePatch {
  gone?: readonly { domainId: number; canonical: string }[]
  links?: readonly LinkRow[]
  domains?: readonly DomainRow[]
  rules?: readonly RuleRow[]
}

/** A table of its own that shares what does not change with another: either may be patched without the other. */
export function copyTable(table: Table): Table {
  const copy: Table = { revision: table.revision, hosts: new Map(), domains: new Map() }
  for (const [id, part] of table.domains) {
    const links = new Map(part.links)
    const near = part.near && new NearSlugs(part.domain.forgiveness, links.keys())
    const own: DomainTable = { domain: part.domain, links, rules: part.rules, near }
    copy.domains.set(id, own)
    copy.hosts.set(part.domain.host, own)
  }
  return copy
}

/** Patches a table in place; addresses go before others come. */
export function patchTable(table: Table, { gone = [], links = [], domains = [], rules }: TablePatch): void {
  for (const domain of domains) putDomain(table, domain)
  for (const { domainId, canonical } of gone) dropLink(table, domainId, canonical)
  for (const link of links) putLink(table, link)
  if (rules) putRules(table, rules)
}
