import { SlipFilter } from '../slugs'

/** Which texts one slip away from an address may be addresses of links on the same domain. */
export class DomainSlips {
  /** Characters of its slugs. */
  private readonly alphabet = new Set<string>()
  /** Made when first asked for: loading a register asks nothing. */
  private filter: SlipFilter | undefined

  add(canonical: string): void {
    for (const character of canonical) this.alphabet.add(character)
    this.filter?.add(canonical)
  }

  /** `links`: those of the domain, by their addresses. */
  near(canonical: string, links: ReadonlyMap<string, unknown>): string[] {
    if (!this.filter || this.filter.isFull) this.filter = new SlipFilter(links.keys(), links.size * 2)
    return this.filter.slipsOf(canonical, [...this.alphabet])
  }
}
