import type { LinkRow } from '../core/rows'

type Address = { domainId: number; canonical: string }

/** Links that are answered otherwise from a moment on. */
interface Pending {
  /** Milliseconds. */
  at: number
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
  keep(at: number, gone: readonly Address[], links: readonly LinkRow[]): void {
    this.pending.push({ at, gone: [...gone], links: new Map(links.map((link) => [link.id, link])) })
    this.pending.sort((a, b) => a.at - b.at)
    this.next = this.pending[0]!.at
  }

  /**
   * Takes what changed of links meanwhile: those that wait go on waiting, as they are by now; gives those that do not.
   */
  sift(gone: readonly Address[], links: readonly LinkRow[]): { gone: readonly Address[]; links: readonly LinkRow[] } {
    if (this.pending.length === 0) return { gone, links }
    const rest: LinkRow[] = []
    for (const link of links) {
      const waiting = this.pending.findLast(({ links: held }) => held.has(link.id))
      if (waiting) waiting.links.set(link.id, link)
      else rest.push(link)
    }
    return { gone, links: rest }
  }

  /** Changes over whatever is due. */
  take(now: number): void {
    while (this.pending.length > 0 && this.pending[0]!.at <= now) {
      const { gone, links } = this.pending.shift()!
      this.patch(gone, [...links.values()])
    }
    this.next = this.pending[0]?.at ?? Infinity
  }

  /** Forgets what waits: the table was loaded whole, as all stands by now. */
  clear(): void {
    this.pending = []
    this.next = Infinity
  }
}
