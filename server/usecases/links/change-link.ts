import type { Action } from '../../../core/ledger'
import { isDeepStrictEqual } from 'node:util'
import type { Transaction } from 'sequelize'
import { LINK_FIELDS, modelValues } from '../../../core/rows'
import { TARGET_RANKS, type Confidence } from '../../../core/targets'
import { standingAt } from '../../../core/table'
import type { Link, LinkPatch } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { DomainModel } from '../../database/models/domain'
import type { LinkModel } from '../../database/models/link'
import { runChange, type Actor, type Change } from '../ledger/change'
import { acceptConflicts, refuseConflicts } from '../conflicts/conflict-gate'
import { findLink } from './find-link'
import { canonicalFor, forwardingAddresses, moveAddress } from './rename-link'
import { checkDates, checkLeading } from './link-rules'
import {
  destinationHash,
  linkState,
  readTags,
  searchText,
  toLinkView,
  writeTags,
  type TaggedLinkState,
} from './link-state'
import { versionConflict, fieldProblem, Problem } from '../problem'

/**
 * Changes a link that stands at `version`. A later version is refused with 412 and told in full, so that both can
 * be compared. A patch that changes nothing writes nothing.
 */
export function changeLink(db: Database, actor: Actor, id: number, version: number, patch: LinkPatch): Promise<Link> {
  return runChange(
    db,
    actor,
    async (change) => {
      const { link, domain } = await findLink(db, id, change.transaction)
      const tags = (await readTags(db, [id], change.transaction)).get(id)!
      if (link.version !== version)
        throw versionConflict(`${domain.host}/${link.slug}`, toLinkView(link, domain, tags, change.now), patch)
      const { reason, slug, forward = true, ...fields } = patch
      const before = linkState(link, tags)
      if (before.forwardsTo !== null)
        throw new Problem(
          409,
          'A forwarding slug',
          `${domain.host}/${link.slug} forwards to another link and answers as that one does; change that link.`,
        )
      const after = { ...before, ...definedOnly(fields) } as TaggedLinkState & Record<string, unknown>
      if (slug !== undefined && slug !== before.slug) {
        after.slug = slug
        after.canonical = canonicalFor(slug, domain)
        after.exception = false
      }
      if (after.standing !== 'paused') after.resumesAt = null
      for (const key of ['startsAt', 'endsAt', 'resumesAt'] as const)
        if (after[key]) after[key] = new Date(after[key]!).toISOString()
      after.tags = [...new Set(after.tags)].sort()
      if (isDeepStrictEqual(before, after)) return toLinkView(link, domain, tags, change.now)
      if (after.standing === 'live' && after.canonical === null) after.canonical = canonicalFor(after.slug, domain)
      await checkState(db, change, domain, after, fields)
      const renamed = after.canonical !== before.canonical
      if (renamed || after.slug !== before.slug) await moveAddress(db, change, link, domain, after, forward)
      await writeLink(db, change, link, domain, after)
      // What a title or an owner is called puts nothing in conflict.
      const view =
        renamed ||
        after.destination !== before.destination ||
        after.standing !== before.standing ||
        after.slug !== before.slug
          ? await refuseConflicts(db, change, { links: [id] }, reason)
          : []
      if (view.some(({ conflict }) => conflict.kind === 'rule-breaker'))
        await link.update({ exception: true }, { transaction: change.transaction })
      await change.record({
        action: actionOf(before, after),
        subject: { kind: 'link', id, label: `${domain.host}/${link.slug}` },
        reason,
        before,
        after: linkState(link, after.tags),
      })
      await acceptConflicts(db, change, view, reason)
      return toLinkView(link, domain, after.tags, change.now)
    },
    { surveyed: true },
  )
}

async function checkState(
  db: Database,
  change: Change,
  domain: DomainModel,
  after: TaggedLinkState,
  fields: Omit<LinkPatch, 'reason' | 'slug' | 'forward'>,
): Promise<void> {
  checkDates(after)
  if (fields.standing === 'live') {
    const ms = (text: string | null) => (text === null ? null : Date.parse(text))
    const standing = standingAt(
      { standing: 'live', startsAt: ms(after.startsAt), endsAt: ms(after.endsAt), resumesAt: null },
      change.now.getTime(),
    )
    if (standing === 'ended')
      throw fieldProblem('endsAt', 'The link’s end has passed; move or clear the end to make it live.')
  }
  if (fields.resumesAt && after.standing !== 'paused')
    throw fieldProblem('resumesAt', 'Only a paused link resumes; pause it with the same change.')
  if (fields.resumesAt && Date.parse(fields.resumesAt) <= change.now.getTime())
    throw fieldProblem('resumesAt', 'The resume time must be in the future.')
  if (fields.destination !== undefined) await checkLeading(db, change, after, domain, 'destination', after.destination)
  if (fields.endedDestination)
    await checkLeading(db, change, after, domain, 'endedDestination', fields.endedDestination)
}

/** Writes a state into a link's row and tags, and counts its version up. */
export async function writeLink(
  db: Database,
  change: Change,
  link: LinkModel,
  domain: DomainModel,
  state: TaggedLinkState,
): Promise<void> {
  const { tags: _tags, domainId: _domainId, ...fields } = state
  const hash = destinationHash(state.destination)
  await link.update(
    {
      ...modelValues(LINK_FIELDS, fields),
      destinationHash: hash,
      ...(hash !== link.destinationHash && { targetRank: await rankOf(db, hash, change.transaction) }),
      searchText: searchText(domain.host, state, await forwardingAddresses(db, link.id, change.transaction)),
      version: link.version + 1,
      updatedAt: change.now,
    },
    { transaction: change.transaction },
  )
  await writeTags(db, link.id, state.tags, change.transaction)
}

const definedOnly = (fields: object) =>
  Object.fromEntries(Object.entries(fields).filter(([, value]) => value !== undefined))

/** How a destination stands by what is known of it, as the register orders it; 0 where it was never asked. */
export async function rankOf(db: Database, hash: string, transaction: Transaction): Promise<number> {
  const target = await db.Target.findOne({ attributes: ['confidence'], where: { hash }, transaction })
  return target?.confidence ? TARGET_RANKS[target.confidence as Confidence] : 0
}

/** The word the ledger uses for a change. */
function actionOf(before: TaggedLinkState, after: TaggedLinkState): Action {
  if (before.standing !== after.standing) {
    const actions: Record<string, Action> = { live: 'resume', paused: 'pause', ended: 'end', retired: 'retire' }
    return actions[after.standing]!
  }
  if (before.slug !== after.slug) return 'rename'
  return before.destination !== after.destination ? 'change-destination' : 'change'
}
