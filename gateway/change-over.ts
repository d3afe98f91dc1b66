import type { LinkRow } from '../core/rows'

export type Address = { domainId: number; canonical: string }

/** Links that are answered otherwise from a moment on. */
interface Pending {
  /** Milliseconds. */
  at: number
  /** The ledger's revision by which it came. */
  revision: number
  gone: Address[]
  links: Map<number, LinkRow>
}

/**
 * Changes to many links that were taken in ahead of their moment, so that every gateway changes over at the same one: a
 * visitor who was answered anew at one gateway is answered anew at all.
 */
export class ChangeOver {
  private pending: Pending[] = []
  /** The next moment something changes over, in milliseconds; infinite where nothing waits. */
  next = Infinity

  constructor(private readonly patch: (gone: readonly Address[], links: readonly LinkRow[]) => void) {}

  /** Keeps links for a moment that lies ahead. */
  keep(at: number, revision: number, gone: readonly Address[], links: readonly LinkRow[]): void {
    this.pending.push({ at, revision, gone: [...gone], links: new Map(links.map((link) => [link.id, link])) })
    this.pending.sort((a, b) => a.at - b.at)
    this.next = this.pending[0]!.at
  }

  /**
   * Takes what changed of links meanwhile: those that wait go on waiting, as they are by now, at the addresses they
   * have until then; gives what of the others goes and comes.
   */
  sift(
    changes: readonly { id: number; canonicals: readonly Address[] }[],
    links: readonly LinkRow[],
  ): { gone: Address[]; links: LinkRow[] } {
    const waitingFor = (id: number) => this.pending.findLast(({ links: held }) => held.has(id))
    const now: { gone: Address[]; links: LinkRow[] } = { gone: [], links: [] }
    // Addresses first: a link taken in twice must find them where they are kept.
    for (const { id, canonicals } of changes) (waitingFor(id)?.gone ?? now.gone).push(...canonicals)
    for (const link of links) {
      const waiting = waitingFor(link.id)
      if (waiting) waiting.links.set(link.id, link)
      else now.links.push(link)
    }
    return now
  }

  /** Changes over whatever is due. */
  take(now: number): void {
    while (this.pending.length > 0 && this.pending[0]!.at <= now) {
      const { gone, links } = this.pending.shift()!
      this.patch(gone, [...links.values()])
    }
    this.next = this.pending[0]?.at ?? Infinity
  }

  /** The revision before the first that waits; infinite where nothing does: what is on disk must not claim more. */
  get settledRevision(): number {
    return Math.min(...this.pending.map(({ revision }) => revision)) - 1
  }

  /** Forgets what waits: the table was loaded whole, as all stands by now. */
  clear(): void {
    this.pending = []
    this.next = Infinity
  }
}
