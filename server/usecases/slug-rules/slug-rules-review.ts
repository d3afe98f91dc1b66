import { QueryTypes, type Transaction } from 'sequelize'
import { canonicalSlug, judgeSlug } from '../../../core/address'
import { lookNeighbours, slipNeighbours, type Survey } from '../../../core/conflicts'
import type { SurveyLink } from '../../../core/rows'
import type { AffectedLink, SlugRulesReview } from '../../../core/schemas'
import {
  alphabetSize,
  breachesOf,
  capacityOf,
  oddsOf,
  recommendLength,
  suggestSlugs,
  type OddsBounds,
  type SlugRules,
} from '../../../core/slugs'
import { standingAt } from '../../../core/table'
import type { Database } from '../../database/open'
import { yielder } from '../yield-to-event-loop'

/** Slug rules with what decides which addresses are the same. */
export interface ReadingRules extends SlugRules {
  capitalsMatter: boolean
  trailingSlashMatters: boolean
}

/** Links told of one kind at once. */
const MAX_TOLD = 500
/** What is wanted of random slugs unless somebody says otherwise. */
export const BOUNDS: OddsBounds = { taken: 0.001, collision: 0.01, guesses: 1000 }
export const NEXT_DRAWS = 1000

/** How much room a domain's rules leave. */
export function toCapacityView(rules: ReadingRules, taken: number): SlugRulesReview['capacity'] {
  const size = alphabetSize(rules, rules.capitalsMatter)
  return {
    addresses: capacityOf(rules, rules.capitalsMatter).toString(),
    taken,
    alphabetSize: size,
    random: oddsOf(size, rules.randomLength, taken, NEXT_DRAWS),
    recommended: recommendLength(size, taken, NEXT_DRAWS, BOUNDS) ?? null,
  }
}

/** What a domain's links would be under other rules, before anybody decides. */
export interface RulesEffect {
  /** Links that break the new rules and are no exceptions yet, with why. */
  breaking: { link: SurveyLink; sentences: string[] }[]
  /** Links of which only one can keep the address they would share, by that address. */
  merging: Map<string, SurveyLink[]>
  /** The canonical slug of every row under the new rules. */
  canonicals: Map<number, string>
}

/**
 * Computes what other rules would do to a domain's links. Forwarding slugs that come to their own link are no clash.
 */
export async function effectOf(survey: Survey, domainId: number, rules: ReadingRules): Promise<RulesEffect> {
  const breaking: RulesEffect['breaking'] = []
  const canonicals = new Map<number, string>()
  const first = new Map<string, SurveyLink>()
  const shared = new Map<string, SurveyLink[]>()
  const yieldNow = yielder()
  for (const link of [...survey.state.links.values()]) {
    if (link.domainId !== domainId) continue
    await yieldNow()
    const canonical = canonicalSlug(link.slug, rules)
    if (canonical === undefined) continue
    canonicals.set(link.id, canonical)
    const there = first.get(canonical)
    const sharing = shared.get(canonical)
    if (sharing) sharing.push(link)
    else if (there) shared.set(canonical, [there, link])
    else first.set(canonical, link)
    if (!link.exception && survey.state.counts(link)) {
      const breaches = breachesOf(link.slug, rules, rules.capitalsMatter)
      if (breaches.length > 0) breaking.push({ link, sentences: breaches.map(({ sentence }) => sentence) })
    }
  }
  const merging = new Map<string, SurveyLink[]>()
  for (const [canonical, links] of shared) {
    const rivals = rivalsOf(links)
    if (rivals.length > 1) merging.set(canonical, rivals)
  }
  return { breaking, merging, canonicals }
}

/**
 * Those that cannot share an address: all but forwarding slugs whose link is among them, or one of several that forward
 * to the same.
 */
function rivalsOf(links: readonly SurveyLink[]): SurveyLink[] {
  const leaders = new Set(links.filter((link) => link.forwardsTo === null).map(({ id }) => id))
  const seen = new Set<number>()
  return links.filter((link) => {
    if (link.forwardsTo === null) return true
    if (leaders.has(link.forwardsTo) || seen.has(link.forwardsTo)) return false
    seen.add(link.forwardsTo)
    return true
  })
}

/** Tells the effect of other rules: each link with its visits, placements and a slug that would do. */
export async function toSlugRulesReview(
  db: Database,
  survey: Survey,
  domainId: number,
  rules: ReadingRules,
  effect: RulesEffect,
  transaction?: Transaction,
): Promise<SlugRulesReview> {
  const breaking = [...effect.breaking].sort((a, b) => b.link.visits28 - a.link.visits28).slice(0, MAX_TOLD)
  const groups = [...effect.merging.entries()].sort((a, b) => sum(b[1]) - sum(a[1])).slice(0, MAX_TOLD)
  const ids = [
    ...new Set([...breaking.map(({ link }) => link.id), ...groups.flatMap(([, links]) => links.map(({ id }) => id))]),
  ]
  const [titles, placements] = await Promise.all([
    readTitles(db, ids, transaction),
    readPlacements(db, ids, transaction),
  ])
  const host = survey.state.domains.get(domainId)!.host
  const offered = new Set<string>()
  const tell = (link: SurveyLink, sentences: string[]): AffectedLink => ({
    id: link.id,
    address: `${host}/${link.slug}`,
    slug: link.slug,
    title: titles.get(link.id) ?? '',
    destination: link.destination,
    standing: link.forwardsTo === null ? standingAt(link, survey.state.now) : 'forwarding',
    visits28: link.visits28,
    placements: placements.get(link.id) ?? { count: 0, copies: 0, fixed: false },
    sentences,
    suggestion: suggestionFor(survey, domainId, rules, effect, link, titles.get(link.id) ?? '', offered),
  })
  return {
    breaking: breaking.map(({ link, sentences }) => tell(link, sentences)),
    breakingTotal: effect.breaking.length,
    merging: groups.map(([canonical, links]) => ({
      address: `${host}/${canonical}`,
      links: [...links].sort((a, b) => b.visits28 - a.visits28 || a.id - b.id).map((link) => tell(link, [])),
    })),
    mergingTotal: effect.merging.size,
    capacity: toCapacityView(rules, survey.state.table.domains.get(domainId)!.links.size),
  }
}

const sum = (links: readonly SurveyLink[]) => links.reduce((total, link) => total + link.visits28, 0)

/** A slug near the link's own that the new rules allow and nobody has, before or after. */
function suggestionFor(
  survey: Survey,
  domainId: number,
  rules: ReadingRules,
  effect: RulesEffect,
  link: SurveyLink,
  title: string,
  offered: Set<string>,
): string | null {
  const domain = survey.state.domains.get(domainId)!
  const table = survey.state.table.domains.get(domainId)!
  const free = (slug: string) => {
    const canonical = judgeSlug(slug) ? undefined : canonicalSlug(slug, rules)
    const now = canonicalSlug(slug, domain)
    return (
      canonical !== undefined &&
      now !== undefined &&
      !offered.has(canonical) &&
      !table.links.has(now) &&
      !takenAfter(effect, canonical)
    )
  }
  const plain = plainSlug(link.slug, rules)
  const candidates =
    plain !== link.slug && free(plain) && breachesOf(plain, rules, rules.capitalsMatter).length === 0
      ? [{ slug: plain }]
      : suggestSlugs(
          { title, destination: link.destination, typed: plain, rules, capitalsMatter: rules.capitalsMatter },
          {
            isFree: free,
            neighbours: (slug) =>
              lookNeighbours(survey.state, domainId, slug).length + slipNeighbours(survey.state, domainId, slug).length,
          },
          1,
        )
  const slug = candidates[0]?.slug ?? null
  if (slug !== null) offered.add(canonicalSlug(slug, rules)!)
  return slug
}

const takenSets = new WeakMap<RulesEffect, Set<string>>()
function takenAfter(effect: RulesEffect, canonical: string): boolean {
  let taken = takenSets.get(effect)
  if (!taken) takenSets.set(effect, (taken = new Set(effect.canonicals.values())))
  return taken.has(canonical)
}

/** A slug brought near to the rules: separators that are allowed, small letters, no characters that are not. */
function plainSlug(slug: string, rules: ReadingRules): string {
  const join = rules.separators.includes('-') ? '-' : (rules.separators[0] ?? '')
  const lower =
    rules.alphabet === 'letters' || (rules.alphabet === 'own' && /[A-Z]/.test(rules.ownAlphabet))
      ? slug
      : slug.toLowerCase()
  return lower.replace(/[-._~]/g, (character) => (rules.separators.includes(character) ? character : join))
}

async function readTitles(
  db: Database,
  ids: readonly number[],
  transaction?: Transaction,
): Promise<Map<number, string>> {
  const rows =
    ids.length > 0 ? await db.Link.findAll({ attributes: ['id', 'title'], where: { id: [...ids] }, transaction }) : []
  return new Map(rows.map((row) => [row.id, row.title]))
}

/** How often each link was put somewhere, in how many copies, and whether any of it cannot be changed. */
export async function readPlacements(
  db: Database,
  ids: readonly number[],
  transaction?: Transaction,
): Promise<Map<number, { count: number; copies: number; fixed: boolean }>> {
  if (ids.length === 0) return new Map()
  const rows = await db.sequelize.query<{ link_id: number; count: number; copies: string | null; fixed: number }>(
    'SELECT link_id, COUNT(*) AS count, SUM(COALESCE(copies, 1)) AS copies, MAX(NOT changeable) AS fixed ' +
      'FROM placement WHERE link_id IN (:ids) GROUP BY link_id',
    { replacements: { ids: [...ids] }, type: QueryTypes.SELECT, transaction },
  )
  return new Map(
    rows.map((row) => [
      Number(row.link_id),
      { count: Number(row.count), copies: Number(row.copies ?? 0), fixed: Boolean(row.fixed) },
    ]),
  )
}
