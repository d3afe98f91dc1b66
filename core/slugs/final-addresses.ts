import { canonicalSlug } from '../address'
import type { SurveyLink } from '../rows'

type Decision = { do: 'keep' | 'merge' | 'end' } | { do: 'rename'; slug: string }
type Placed = Pick<SurveyLink, 'id' | 'forwardsTo'>

/** Who has which address in the end; `null` where a link has none. */
export interface FinalAddresses {
  ok: true
  final: Map<number, string | null>
  owner: Map<string, number>
}

/**
 * Gives every link of a domain the address it has under other rules: `canonicals` are those their slugs would have, and
 * `decided` what becomes of some. Links of their own that nobody decided about come first, then forwarding slugs, then
 * those renamed, and last those that merge or end, which may have none. Fails at the first renamed link whose new
 * address somebody else has. In steps, as a domain may have very many links.
 */
export function* finalAddresses<Link extends Placed>(
  links: readonly Link[],
  canonicals: ReadonlyMap<number, string>,
  decided: ReadonlyMap<number, { link: Link; decision: Decision }>,
  rules: Parameters<typeof canonicalSlug>[1],
): Generator<undefined, FinalAddresses | { ok: false; link: Link; slug: string }> {
  const owner = new Map<string, number>()
  const claim = (canonical: string, link: number) => !owner.has(canonical) && owner.set(canonical, link) !== undefined
  const final = new Map<number, string | null>()
  const place = (link: Link) => {
    const canonical = canonicals.get(link.id)!
    final.set(link.id, claim(canonical, link.id) ? canonical : null)
  }
  const stays = ({ id }: Link) => (decided.get(id)?.decision.do ?? 'keep') === 'keep'
  for (const forwarding of [false, true])
    for (const link of links) {
      if ((link.forwardsTo !== null) === forwarding && stays(link)) place(link)
      yield
    }
  for (const { link, decision } of decided.values()) {
    if (decision.do !== 'rename') continue
    const canonical = canonicalSlug(decision.slug, rules)!
    if (!claim(canonical, link.id)) return { ok: false, link, slug: decision.slug }
    final.set(link.id, canonical)
  }
  for (const { link, decision } of decided.values()) if (decision.do === 'merge' || decision.do === 'end') place(link)
  return { ok: true, final, owner }
}
