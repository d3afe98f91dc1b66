import type { Action } from '../../../core/ledger'
import { judgeSlug, SLUG_REFUSALS } from '../../../core/address'
import type { Survey } from '../../../core/conflicts'
import type { SurveyLink } from '../../../core/rows'
import type { SlugDecision } from '../../../core/schemas'
import { breachesOf, finalAddresses } from '../../../core/slugs'
import type { Database } from '../../database/open'
import type { DomainModel } from '../../database/models/domain'
import type { Change } from '../ledger/change'
import { domainState } from '../domains/change-domain'
import { writeLink } from '../links/change-link'
import { linkState, readTags } from '../links/link-state'
import { mergeLink } from '../links/merge-links'
import { Problem } from '../problem'
import { leaveForwarding } from '../links/rename-link'
import { inSteps, yielder } from '../yield-to-event-loop'
import { effectOf, toSlugRulesReview, type ReadingRules, type RulesEffect } from './slug-rules-review'

/** What is decided about a link; `inGroup`: one of several that would share an address. */
type Decided = { link: SurveyLink; decision: SlugDecision; inGroup: boolean }

/**
 * Applies rules and decisions within a change, with their entries in the ledger. Gives the id of the domain's entry.
 */
export async function applySlugRules(
  db: Database,
  change: Change,
  domain: DomainModel,
  rules: ReadingRules,
  decisions: Record<string, SlugDecision>,
  otherwise: 'keep' | undefined,
  entry: { action: Action; reason?: string; undoesId?: number },
): Promise<number> {
  const id = domain.id
  const { survey } = change
  const effect = await effectOf(survey, id, rules)
  const decided = await decide(db, change, survey, id, rules, effect, decisions, otherwise)
  const before = domainState(domain)
  const { capitalsMatter, trailingSlashMatters, ...slugRules } = rules
  await domain.update(
    { slugRules, capitalsMatter, trailingSlashMatters, version: domain.version + 1, updatedAt: change.now },
    { transaction: change.transaction },
  )
  await settleAddresses(db, change, domain, rules, effect, decided, entry.reason)
  const more = entry.undoesId === undefined ? {} : { undoesId: entry.undoesId }
  return change.record({
    action: entry.action,
    subject: { kind: 'domain', id, label: domain.host },
    reason: entry.reason,
    before,
    after: domainState(domain),
    ...more,
  })
}

/** Brings decisions and effect together; refuses what is undecided, decided for nothing, or cannot be as decided. */
async function decide(
  db: Database,
  change: Change,
  survey: Survey,
  domainId: number,
  rules: ReadingRules,
  effect: RulesEffect,
  decisions: Record<string, SlugDecision>,
  otherwise: 'keep' | undefined,
): Promise<Map<number, Decided>> {
  const decided = new Map<number, Decided>()
  const undecided: SurveyLink[] = []
  for (const { link } of effect.breaking) {
    const decision = decisions[link.id] ?? (otherwise && { do: otherwise })
    if (decision) decided.set(link.id, { link, decision, inGroup: false })
    else undecided.push(link)
  }
  for (const [canonical, links] of effect.merging) {
    const keepers = links.filter((link) => !decisions[link.id] || decisions[link.id]!.do === 'keep')
    for (const link of links) {
      const decision = decisions[link.id]
      if (decision && decision.do !== 'keep') decided.set(link.id, { link, decision, inGroup: true })
    }
    if (keepers.length > 1) undecided.push(...keepers)
    if (keepers.length === 0)
      throw undecidable(
        links[0]!,
        `One of the links that would share ${survey.state.address(domainId, canonical)} must keep it.`,
      )
  }
  if (undecided.length > 0) {
    const review = await toSlugRulesReview(db, survey, domainId, rules, effect, change.transaction)
    const detail =
      `${undecided.length === 1 ? '1 link is' : `${undecided.length.toLocaleString('en')} links are`} not ` +
      'settled yet; nothing was changed. Decide about each, or keep those that break the rules as ' +
      'exceptions.'
    throw new Problem(
      409,
      'Not settled',
      detail,
      undecided
        .slice(0, 100)
        .map((link) => ({ pointer: `/decisions/${link.id}`, detail: `Decide what becomes of ${link.slug}.` })),
      { review, undecided: undecided.slice(0, 1000).map(({ id }) => id) },
    )
  }
  for (const { link, decision } of decided.values()) {
    if (decision.do !== 'rename') continue
    const refusal = judgeSlug(decision.slug)
    if (refusal) throw undecidable(link, SLUG_REFUSALS[refusal.reason](refusal.character ?? ''))
    const breaches = breachesOf(decision.slug, rules, rules.capitalsMatter)
    if (breaches.length > 0)
      throw undecidable(link, `“${decision.slug}” breaks the new rules: ${breaches[0]!.sentence}`)
  }
  return decided
}

const undecidable = (link: { id: number }, detail: string) =>
  new Problem(409, 'Cannot be settled so', detail, [{ pointer: `/decisions/${link.id}`, detail }])

const CHUNK = 500

/** Gives every row of the domain the address it has under the new rules, and carries decisions out. */
async function settleAddresses(
  db: Database,
  change: Change,
  domain: DomainModel,
  rules: ReadingRules,
  effect: RulesEffect,
  decided: Map<number, Decided>,
  reason: string | undefined,
): Promise<void> {
  const { transaction } = change
  const { survey } = change
  const rows: SurveyLink[] = []
  const yieldNow = yielder()
  for (const linkId of effect.canonicals.keys()) {
    rows.push(survey.state.links.get(linkId)!)
    await yieldNow()
  }
  const settled = await inSteps(finalAddresses(rows, effect.canonicals, decided, rules))
  if (!settled.ok)
    throw undecidable(
      settled.link,
      `“${settled.slug}” is taken on ${domain.host} under the new rules; choose another slug.`,
    )
  const { final, owner } = settled
  // All that move step aside first: no address is ever had by two.
  const moving = rows.filter((link) => final.get(link.id) !== link.canonical)
  for (let from = 0; from < moving.length; from += CHUNK) {
    await db.sequelize.query('UPDATE link SET canonical = CONCAT(CHAR(1), id) WHERE id IN (:ids)', {
      replacements: { ids: moving.slice(from, from + CHUNK).map((link) => link.id) },
      transaction,
    })
  }
  const quiet = moving.filter((link) => !decided.has(link.id))
  for (let from = 0; from < quiet.length; from += CHUNK) {
    const part = quiet.slice(from, from + CHUNK)
    await db.sequelize.query(
      `UPDATE link SET canonical = CASE id ${part.map(() => 'WHEN ? THEN ?').join(' ')} END WHERE id IN ` +
        `(${part.map(() => '?').join(',')})`,
      {
        replacements: [...part.flatMap((link) => [link.id, final.get(link.id)!]), ...part.map((link) => link.id)],
        transaction,
      },
    )
  }
  // Links that become part of others last, when those have their places.
  const order = { keep: 0, rename: 1, end: 2, merge: 3 }
  for (const one of [...decided.values()].sort((a, b) => order[a.decision.do] - order[b.decision.do]))
    await carryOut(db, change, domain, effect, one, final.get(one.link.id)!, owner, reason)
}

async function carryOut(
  db: Database,
  change: Change,
  domain: DomainModel,
  effect: RulesEffect,
  { link: surveyed, decision, inGroup }: Decided,
  canonical: string | null,
  owner: Map<string, number>,
  reason: string | undefined,
): Promise<void> {
  const { transaction } = change
  const link = (await db.Link.findByPk(surveyed.id, { transaction, lock: transaction.LOCK.UPDATE }))!
  const tags = (await readTags(db, [surveyed.id], transaction)).get(surveyed.id)!
  const now = linkState(link, tags)
  const before = { ...now, canonical: surveyed.canonical }
  if (decision.do === 'merge') {
    const into = await db.Link.findByPk(decision.into, { transaction, lock: transaction.LOCK.UPDATE })
    if (!into) throw undecidable(surveyed, `There is no link ${decision.into} to become part of.`)
    if (into.forwardsTo !== null)
      throw undecidable(surveyed, `Link ${decision.into} forwards to another itself; choose that one.`)
    if (surveyed.forwardsTo === into.id) return void (await link.update({ canonical }, { transaction }))
    await mergeLink(db, change, link, into, { canonical, was: surveyed.canonical, reason })
    return
  }
  const after = { ...now, canonical, exception: decision.do === 'keep' ? true : now.exception }
  if (decision.do === 'rename') Object.assign(after, { slug: decision.slug, exception: false })
  if (decision.do === 'end') {
    after.standing = 'ended'
    after.resumesAt = null
    if (surveyed.forwardsTo !== null)
      throw undecidable(
        surveyed,
        'A forwarding slug cannot end; let it become part of the link that keeps the address, or rename it.',
      )
  }
  // The old slug goes on, unless its address is somebody else's now.
  const old = effect.canonicals.get(surveyed.id)!
  if (decision.do === 'rename' && !inGroup && !owner.has(old)) {
    owner.set(old, surveyed.id)
    await leaveForwarding(db, change, link, domain, { slug: surveyed.slug, canonical: old })
  }
  await writeLink(db, change, link, domain, after)
  await change.record({
    action: ({ keep: 'except', rename: 'rename', end: 'end' } as const)[decision.do],
    subject: { kind: 'link', id: surveyed.id, label: `${domain.host}/${surveyed.slug}` },
    reason,
    before,
    after: linkState(link, tags),
  })
}
