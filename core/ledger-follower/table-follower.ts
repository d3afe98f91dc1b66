import type { DomainRow, LinkRow, RuleRow } from '../rows'
import { compile, emptyTable, patchTable, putLink, putRules, type Table } from '../table'
import type { LedgerChanges } from './read-changes'
import { ScheduledPatches } from './scheduled-patches'

/** Where a follower reads the register and its ledger from. */
export interface TableSource {
  revision(): Promise<number>
  /** Entries past a revision, oldest first, as many as are read in one step. */
  changes(after: number): Promise<LedgerChanges>
  domains(): Promise<DomainRow[]>
  /** All links, page by page. */
  links(): AsyncIterable<LinkRow[]>
  /** Links of these ids that have an address, and the slugs that forward to them. */
  linksById(ids: readonly number[]): Promise<LinkRow[]>
  rules(): Promise<RuleRow[]>
}

/** What changed in a table. */
export interface TableChange {
  gone: { domainId: number; canonical: string }[]
  links: LinkRow[]
  domains?: DomainRow[]
  rules?: RuleRow[]
}

/** Calls after each change of the table. */
export interface TableListener {
  /** The table was patched; `ids` are the links that the change is about. */
  patched(change: TableChange, ids: readonly number[]): void
  /** Another table, loaded as a whole, took its place. */
  loaded(table: Table): void
  /** What the organisation stores of visitors may have changed. */
  organisationChanged?(): Promise<void>
}

/**
 * Keeps a redirect table equal to the register by its ledger: loads it once, then patches it with each entry past its
 * own revision. Changes that take effect later are applied by `applyDue`.
 */
export class TableFollower {
  private readonly scheduled = new ScheduledPatches()
  table: Table

  constructor(
    private readonly source: TableSource,
    private readonly listener: TableListener,
    private readonly now: () => number = Date.now,
    start: Table = emptyTable(),
  ) {
    this.table = start
  }

  /** When the next scheduled change takes effect, in milliseconds; infinite where none is pending. */
  get nextDue(): number {
    return this.scheduled.next
  }

  /** The revision that the whole table has reached: scheduled changes are not in it yet. */
  get settledRevision(): number {
    return Math.min(this.table.revision, this.scheduled.settledRevision)
  }

  /** Loads the whole table. */
  async load(): Promise<void> {
    // The revision first: what changes during the load is patched again afterwards, which is harmless.
    const revision = await this.source.revision()
    const fresh = compile(await this.source.domains(), [], revision)
    for await (const links of this.source.links()) for (const link of links) putLink(fresh, link)
    putRules(fresh, await this.source.rules())
    this.table = fresh
    this.scheduled.clear()
    this.listener.loaded(fresh)
  }

  /** Brings the table to the ledger's end. */
  async catchUp(): Promise<void> {
    for (;;) {
      const changes = await this.source.changes(this.table.revision)
      if (changes.revision === this.table.revision) return
      const domains = changes.domains.length > 0 ? await this.source.domains() : undefined
      // A change in how slugs are read moves every link of the domain; one that was removed is not in the whole table.
      if (domains && (domains.some((domain) => readsSlugsOtherwise(this.table, domain)) || this.holdsOthers(domains)))
        return this.load()
      const ids = [...new Set(changes.links.map(({ id }) => id))]
      const rows = ids.length > 0 ? await this.source.linksById(ids) : []
      const rules = changes.rules.length > 0 ? await this.source.rules() : undefined
      if (changes.organisation) await this.listener.organisationChanged?.()
      // No waiting from here on: a visitor sees the table before the change or after it.
      const now = this.now()
      this.applyDue(now)
      const { gone, links } = this.scheduled.sort(this.table, changes.links, rows, now)
      const change: TableChange = { gone, links, domains, rules }
      patchTable(this.table, change)
      this.table.revision = changes.revision
      this.listener.patched(change, ids)
    }
  }

  /** Whether the table holds a domain that is none of these. */
  private holdsOthers(domains: readonly DomainRow[]): boolean {
    const ids = new Set(domains.map(({ id }) => id))
    return [...this.table.domains.keys()].some((id) => !ids.has(id))
  }

  /** Applies the scheduled changes whose time has come. */
  applyDue(now = this.now()): void {
    const patch = this.scheduled.due(this.table, now)
    if (!patch) return
    patchTable(this.table, patch)
    this.listener.patched(patch, [...new Set(patch.links.map(({ id }) => id))])
  }
}

/** Whether a domain reads slugs otherwise than in `table`: every link of it then has another canonical form. */
export function readsSlugsOtherwise(table: Table, domain: DomainRow): boolean {
  const known = table.domains.get(domain.id)?.domain
  return (
    known !== undefined &&
    (known.capitalsMatter !== domain.capitalsMatter || known.trailingSlashMatters !== domain.trailingSlashMatters)
  )
}
