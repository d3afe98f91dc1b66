import type { LinkRow } from '../rows'
import type { Table } from '../table'
import { stillOwned, type FormerAddress } from './still-owned'
import type { Address, LinkChange } from './read-changes'

/** What changes in a table: addresses to drop first, then rows to put. */
export interface LinkPatch {
  gone: Address[]
  links: LinkRow[]
}

interface PendingFormer extends FormerAddress {
  /** Of the change that took the address from the link. */
  revision: number
}

/** A link whose change takes effect later. */
interface PendingLink {
  /** Milliseconds. */
  at: number
  /** The revision before which the table is complete. */
  revision: number
  /** Where it and its further slugs answered before, by `formerKey`; dropped when the change takes effect. */
  former: Map<string, PendingFormer>
  /** Its row and those of its further slugs, by id. */
  rows: Map<number, LinkRow>
}

const keyOf = ({ domainId, canonical }: Address) => `${domainId}/${canonical}`
const formerKey = (link: number, address: Address) => `${link}@${keyOf(address)}`

/**
 * Changes that gateways read ahead of the time they take effect, so that all gateways switch at the same time. A link
 * waits once, until its latest time, with all that happens to it in between: nothing of it takes effect early, and
 * when its time comes the table equals one loaded from the register.
 */
export class ScheduledPatches {
  private readonly pending = new Map<number, PendingLink>()
  /** Which pending row is at an address: a row read later displaces it. */
  private readonly holders = new Map<string, number>()
  /** Which pending link a row waits with. */
  private readonly homes = new Map<number, number>()
  /** Which pending link a former address waits with: a row read there later lifts it. */
  private readonly formerHomes = new Map<string, number>()
  /** The next time a patch takes effect, in milliseconds; infinite where none is pending. */
  next = Infinity

  /**
   * Splits changes into what takes effect now and what waits. `changes` are entries of the ledger in order, `rows` the
   * links they name as the register has them, with their further slugs.
   */
  sort(table: Table, changes: readonly LinkChange[], rows: readonly LinkRow[], now: number): LinkPatch {
    // Those that wait first: an immediate change of the same link must not carry them along.
    for (const change of changes) if (change.liveAt !== undefined && change.liveAt > now) this.wait(change)
    const there = new Set(rows.map(({ id }) => id))
    const former: PendingFormer[] = []
    for (const { id, addresses, liveAt, revision } of changes) {
      const link = this.waitingLink(table, id, addresses)
      this.removeRow(id)
      const waiting = link === undefined ? undefined : this.pending.get(link)
      const isDeletedNow = link === id && !there.has(id) && !(liveAt !== undefined && liveAt > now)
      if (waiting && !isDeletedNow) {
        for (const address of addresses) this.putFormer(link!, { ...address, link: id, revision })
        waiting.revision = Math.min(waiting.revision, revision)
        continue
      }
      former.push(...addresses.map((address) => ({ ...address, link: id, revision })))
      // A deleted link has nothing to wait for.
      if (waiting) former.push(...this.remove(id).former.values())
    }
    const links = rows.filter((row) => !this.keep(row))
    // An address that a pending row takes over answers as before until then.
    const gone = former.filter((address) => !this.handOver(address))
    this.next = Infinity
    for (const { at } of this.pending.values()) this.next = Math.min(this.next, at)
    return { gone: stillOwned(table, gone), links }
  }

  /** What takes effect by `now`; `undefined` where nothing does. */
  due(table: Table, now: number): LinkPatch | undefined {
    if (now < this.next) return undefined
    const former: PendingFormer[] = []
    const links: LinkRow[] = []
    this.next = Infinity
    for (const [link, { at }] of this.pending) {
      if (at > now) {
        this.next = Math.min(this.next, at)
        continue
      }
      const rows = [...this.pending.get(link)!.rows.values()]
      former.push(...this.remove(link).former.values())
      for (const row of rows) links.push(row)
    }
    const gone = former.filter((address) => !this.handOver(address))
    return { gone: stillOwned(table, gone), links }
  }

  /** The revision before the first change that is pending; infinite where none is. A snapshot must not claim more. */
  get settledRevision(): number {
    let first = Infinity
    for (const { revision } of this.pending.values()) first = Math.min(first, revision)
    return first - 1
  }

  /** Discards all: the table was loaded as a whole. */
  clear(): void {
    this.pending.clear()
    this.holders.clear()
    this.homes.clear()
    this.formerHomes.clear()
    this.next = Infinity
  }

  private wait({ id, liveAt, revision }: LinkChange): void {
    const waiting = this.pending.get(id)
    if (waiting) waiting.at = Math.max(waiting.at, liveAt!)
    else this.pending.set(id, { at: liveAt!, revision, former: new Map(), rows: new Map() })
  }

  /** The pending link that a change belongs to: its own, or the one its slug forwards to. */
  private waitingLink(table: Table, id: number, addresses: readonly Address[]): number | undefined {
    if (this.pending.size === 0) return undefined
    if (this.pending.has(id)) return id
    for (const { domainId, canonical } of addresses) {
      const entry = table.domains.get(domainId)?.links.get(canonical)
      if (entry?.id === id && this.pending.has(entry.leader)) return entry.leader
    }
    return this.homes.get(id)
  }

  /** Keeps a row that waits; false where it takes effect now, which displaces a pending row at its address. */
  private keep(row: LinkRow): boolean {
    if (this.pending.size === 0) return false
    const holder = this.holders.get(keyOf(row))
    if (holder !== undefined) this.removeRow(holder)
    this.removeRow(row.id)
    this.removeFormer(formerKey(row.id, row))
    const link = row.forwardsTo !== null && this.pending.has(row.forwardsTo) ? row.forwardsTo : row.id
    const waiting = this.pending.get(link)
    if (!waiting) return false
    waiting.rows.set(row.id, row)
    this.holders.set(keyOf(row), row.id)
    this.homes.set(row.id, link)
    return true
  }

  private removeRow(id: number): void {
    const home = this.homes.get(id)
    if (home === undefined) return
    const { rows } = this.pending.get(home)!
    this.holders.delete(keyOf(rows.get(id)!))
    rows.delete(id)
    this.homes.delete(id)
  }

  private putFormer(home: number, former: PendingFormer): void {
    const key = formerKey(former.link, former)
    this.removeFormer(key)
    this.pending.get(home)!.former.set(key, former)
    this.formerHomes.set(key, home)
  }

  /** Has a former address wait with the pending row that takes it over; false where none does. */
  private handOver(former: PendingFormer): boolean {
    const row = this.holders.get(keyOf(former))
    if (row === undefined) return false
    const home = this.homes.get(row)!
    if (row !== former.link) this.putFormer(home, former)
    const waiting = this.pending.get(home)!
    waiting.revision = Math.min(waiting.revision, former.revision)
    return true
  }

  private removeFormer(key: string): void {
    const home = this.formerHomes.get(key)
    if (home === undefined) return
    this.pending.get(home)!.former.delete(key)
    this.formerHomes.delete(key)
  }

  private remove(link: number): PendingLink {
    const waiting = this.pending.get(link)!
    for (const key of waiting.former.keys()) this.formerHomes.delete(key)
    for (const id of [...waiting.rows.keys()]) this.removeRow(id)
    this.pending.delete(link)
    return waiting
  }
}
