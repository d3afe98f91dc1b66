import type { Address, LedgerChanges, LinkChange, TableSource } from '../../../core/ledger-follower'
import type { DomainRow, LinkRow } from '../../../core/rows'
import { domainRow, linkRow } from '../table/rows'

interface Kept {
  id: number
  domainId: number
  canonical: string | null
  destination: string
  forwardsTo: number | null
  standing: LinkRow['standing']
}

interface Entry {
  revision: number
  liveAt?: number
  kind: 'link' | 'links' | 'domain'
  links: { id: number; addresses: Address[] }[]
}

/** A register and its ledger in memory, which change by random acts as the desk's use cases change them. */
export class RegisterModel {
  now = 1_000_000
  revision = 0
  private nextId = 1
  private destinations = 0
  readonly links = new Map<number, Kept>()
  private readonly entries: Entry[] = []
  readonly domains: DomainRow[] = [domainRow({ id: 1 }), domainRow({ id: 2, host: 'rider.example' })]
  /** Since which revision an address has belonged to some link without a gap. */
  readonly since = new Map<string, number>()
  /** So many entries of the ledger are read in one step at most. */
  entriesAtOnce = 6
  /** When the last scheduled change takes effect. */
  lastDue = 0

  constructor(readonly random: () => number) {}

  pick<Item>(items: readonly Item[]): Item | undefined {
    return items[Math.floor(this.random() * items.length)]
  }

  /** Does one random act. */
  act(): void {
    const acts = [this.create, this.edit, this.edit, this.rename, this.rename, this.end, this.remove, this.schedule]
    this.pick([
      ...acts,
      this.schedule,
      this.moveTogether,
      this.addSlug,
      this.removeSlug,
      this.merge,
      this.reread,
    ])!.call(this)
    const there = new Set<string>()
    for (const { canonical, domainId } of this.links.values())
      if (canonical !== null) there.add(`${domainId}/${canonical}`)
    for (const key of this.since.keys()) if (!there.has(key)) this.since.delete(key)
    for (const key of there) if (!this.since.has(key)) this.since.set(key, this.revision)
  }

  private own = () => [...this.links.values()].filter(({ forwardsTo }) => forwardsTo === null)
  private slugsOf = (id: number) => [...this.links.values()].filter(({ forwardsTo }) => forwardsTo === id)
  private at = (domainId: number, canonical: string) =>
    [...this.links.values()].find((link) => link.domainId === domainId && link.canonical === canonical)
  private destination = () => `https://www.example/${++this.destinations}`

  private record(kind: Entry['kind'], links: Entry['links'], liveAt?: number): void {
    this.entries.push({ revision: ++this.revision, kind, links, liveAt })
    if (liveAt !== undefined) this.lastDue = Math.max(this.lastDue, liveAt)
  }
  private before = ({ domainId, canonical }: Kept): Address[] => (canonical === null ? [] : [{ domainId, canonical }])

  private put(domainId: number, canonical: string | null, forwardsTo: number | null, destination: string): Kept {
    const link: Kept = { id: this.nextId++, domainId, canonical, destination, forwardsTo, standing: 'live' }
    this.links.set(link.id, link)
    return link
  }

  private create(): void {
    const canonical = this.pick(['a', 'b', 'c', 'd', 'e', 'f'])!
    const domainId = this.pick([1, 2])!
    if (this.at(domainId, canonical)) return
    this.record('link', [{ id: this.put(domainId, canonical, null, this.destination()).id, addresses: [] }])
  }

  private edit(): void {
    const link = this.pick(this.own())
    if (!link) return
    const addresses = this.before(link)
    link.destination = this.destination()
    this.record('link', [{ id: link.id, addresses }])
  }

  private rename(): void {
    const link = this.pick(this.own())
    const canonical = this.pick(['a', 'b', 'c', 'd', 'e', 'f'])!
    if (!link || link.canonical === null || link.canonical === canonical) return
    const holder = this.at(link.domainId, canonical)
    if (holder && holder.forwardsTo !== link.id) return
    if (holder) {
      this.record('link', [{ id: holder.id, addresses: this.before(holder) }])
      this.links.delete(holder.id)
    }
    const addresses = this.before(link)
    link.canonical = canonical
    if (this.random() < 0.7) {
      const left = this.put(link.domainId, addresses[0]!.canonical, link.id, link.destination)
      this.record('link', [{ id: left.id, addresses: [] }])
    }
    this.record('link', [{ id: link.id, addresses }])
  }

  private end(): void {
    const link = this.pick(this.own())
    if (!link) return
    const addresses = this.before(link)
    link.standing = this.pick(['live', 'ended', 'retired', 'paused'] as const)!
    this.record('link', [{ id: link.id, addresses }])
  }

  private remove(): void {
    const link = this.pick(this.own())
    if (!link || this.slugsOf(link.id).length > 0) return
    this.links.delete(link.id)
    this.record('link', [{ id: link.id, addresses: this.before(link) }])
  }

  private soon = () => this.now + Math.floor(this.random() * 4000)

  /** A change to several links that takes effect at one time: their destinations, or their deletion. */
  private schedule(): void {
    const links = this.own().filter(() => this.random() < 0.4)
    if (links.length === 0) return
    const deletes = this.random() < 0.15
    const told = links.map((link) => {
      const isFree = deletes && this.slugsOf(link.id).length === 0
      if (isFree) this.links.delete(link.id)
      else link.destination = this.destination()
      return { id: link.id, addresses: isFree ? this.before(link) : [] }
    })
    this.record('links', told, this.random() < 0.8 ? this.soon() : undefined)
  }

  /** Links that move to the other domain together and leave their old addresses forwarding. */
  private moveTogether(): void {
    const told: Entry['links'] = []
    for (const link of this.own().filter(() => this.random() < 0.4)) {
      const to = 3 - link.domainId
      if (link.canonical === null) continue
      const holder = this.at(to, link.canonical)
      if (holder && holder.forwardsTo !== link.id) continue
      if (holder) {
        told.push({ id: holder.id, addresses: this.before(holder) })
        this.links.delete(holder.id)
      }
      told.push({ id: link.id, addresses: this.before(link) })
      told.push({ id: this.put(link.domainId, link.canonical, link.id, link.destination).id, addresses: [] })
      link.domainId = to
    }
    if (told.length > 0) this.record('links', told, this.random() < 0.8 ? this.soon() : undefined)
  }

  private addSlug(): void {
    const link = this.pick(this.own())
    const canonical = this.pick(['a', 'b', 'c', 'd', 'e', 'f'])!
    if (!link || this.at(1, canonical)) return
    this.record('link', [{ id: this.put(1, canonical, link.id, link.destination).id, addresses: [] }])
  }

  private removeSlug(): void {
    const slug = this.pick([...this.links.values()].filter(({ forwardsTo }) => forwardsTo !== null))
    if (!slug) return
    this.links.delete(slug.id)
    this.record('link', [{ id: slug.id, addresses: this.before(slug) }])
  }

  private merge(): void {
    const [link, into] = [this.pick(this.own()), this.pick(this.own())]
    if (!link || !into || link === into) return
    for (const row of [link, ...this.slugsOf(link.id)]) {
      const addresses = this.before(row)
      row.forwardsTo = into.id
      if (row === link && this.random() < 0.3) row.canonical = null
      this.record('link', [{ id: row.id, addresses }])
    }
  }

  private reread(): void {
    if (this.random() > 0.1) return
    this.domains[0] = { ...this.domains[0]!, capitalsMatter: !this.domains[0]!.capitalsMatter }
    this.record('domain', [])
  }

  /** The row at an address as the database would select it: a further slug answers as its link does. */
  row({ id, domainId, canonical, forwardsTo }: Kept): LinkRow {
    const { destination, standing } = this.links.get(forwardsTo ?? id)!
    return linkRow({ id, domainId, slug: canonical!, canonical: canonical!, forwardsTo, destination, standing })
  }
  rows = (): LinkRow[] =>
    [...this.links.values()].filter(({ canonical }) => canonical !== null).map((one) => this.row(one))

  /** Reads it as the gateway does, with acts of others between any two reads. */
  source(between: () => void): TableSource {
    const read = async <Value>(value: () => Value): Promise<Value> => {
      between()
      return value()
    }
    return {
      revision: () => read(() => this.revision),
      changes: (after) => read(() => this.changes(after)),
      domains: () => read(() => [...this.domains]),
      links: () => this.pages(between),
      linksById: (ids) =>
        read(() =>
          this.rows().filter(
            ({ id, forwardsTo }) => ids.includes(id) || (forwardsTo !== null && ids.includes(forwardsTo)),
          ),
        ),
      rules: () => read(() => []),
    }
  }

  private async *pages(between: () => void): AsyncGenerator<LinkRow[]> {
    for (let after = 0; ;) {
      between()
      const page = this.rows()
        .filter(({ id }) => id > after)
        .sort((a, b) => a.id - b.id)
        .slice(0, 2)
      if (page.length === 0) return
      after = page.at(-1)!.id
      yield page
    }
  }

  private changes(after: number): LedgerChanges {
    const limit = Math.min(Number.MAX_SAFE_INTEGER, 1 + Math.floor(this.random() * this.entriesAtOnce))
    const some = this.entries.filter(({ revision }) => revision > after).slice(0, limit)
    return {
      revision: some.at(-1)?.revision ?? after,
      links: some.flatMap(({ revision, liveAt, kind, links }): LinkChange[] =>
        links.map((link) => ({ ...link, revision, liveAt, together: kind === 'links' })),
      ),
      domains: some.some(({ kind }) => kind === 'domain') ? [1] : [],
      rules: [],
      organisation: false,
      complete: some.length < limit,
    }
  }
}
