import type { State } from '../../database/models/ledger-entry'
import { refuseLoops } from '../conflicts/conflict-gate'
import { fieldsToPutBack, refuseOverwriting, type UndoSubject } from '../ledger/put-back'
import { Problem } from '../problem'
import { writeLink } from './change-link'
import { findLink } from './find-link'
import { dropAlias, putAlias } from './aliases'
import { checkForward } from './link-rules'
import { linkState, readTags, type TaggedLinkState } from './link-state'
import { canonicalFor, moveAddress } from './rename-link'
import { observableLinks } from './was-observable'

/** Puts the fields an entry changed of a link back, or takes its making back; refused where that leads in a circle. */
export const undoLink: UndoSubject = async (db, change, entry, request) => {
  const id = entry.subjectId
  // A further slug came or went: by what it was before and after, as undoings go both ways.
  const [was, became] = [entry.beforeState, entry.afterState] as (Partial<TaggedLinkState> | null)[]
  if (was === null && became?.forwardsTo && entry.action !== 'create') return takeAliasBack(db, change, entry, request)
  if (became === null && was?.forwardsTo) return giveAliasAgain(db, change, entry, request)
  const { link, domain } = await findLink(db, id, change.transaction)
  const now = linkState(link, (await readTags(db, [id], change.transaction)).get(id)!)
  const subject = { kind: 'link' as const, id, label: `${domain.host}/${link.slug}` }
  const record = (after: State | null) =>
    change.record({ action: 'undo', subject, reason: request.reason, before: now, after, undoesId: entry.id })

  if (entry.beforeState === null) {
    await refuseOverwriting(db, change, entry, now, request)
    // What was marked as gone never led anybody anywhere.
    if (entry.action === 'mark-gone') {
      await link.destroy({ transaction: change.transaction })
      return record(null)
    }
    const observable = await observableLinks(db, change.transaction, [link], entry.id, change.now)
    if (!observable.has(id)) {
      const forwarding = await db.Link.findOne({ where: { forwardsTo: id }, transaction: change.transaction })
      if (forwarding)
        throw new Problem(
          409,
          'Cannot be undone',
          `Other addresses became part of this link, ${domain.host}/${forwarding.slug} among them; undo that first.`,
        )
      await link.destroy({ transaction: change.transaction })
      return record(null)
    }
    const after = { ...now, standing: 'retired' as const }
    await writeLink(db, change, link, domain, after)
    return record(after)
  }
  const after = { ...now, ...(await fieldsToPutBack(db, change, entry, now, request)) } as TaggedLinkState & State
  // Its address follows from its slug under the rules of today; a slug given back forwards no more, the other one does.
  const home = canonicalFor(after.slug, domain)
  if (after.forwardsTo !== null) after.canonical = after.slug === now.slug ? now.canonical : home
  else after.canonical = after.standing === 'live' || now.canonical !== null || after.slug !== now.slug ? home : null
  if (after.destination !== now.destination)
    await checkForward(
      db,
      { domainId: after.domainId, canonical: home },
      after.destination,
      'destination',
      change.transaction,
    )
  if (after.exception && !now.exception && change.actor.role !== 'administrator')
    throw new Problem(403, 'Not allowed', 'Only an administrator may keep a slug against the slug rules.')
  if (after.canonical !== now.canonical) await moveAddress(db, change, link, domain, after, after.slug !== now.slug)
  await writeLink(db, change, link, domain, after)
  await refuseLoops(db, change, { links: [id] })
  return record(linkState(link, after.tags))
}

/** Takes back that a link was given a slug. */
const takeAliasBack: UndoSubject = async (db, change, entry, request) => {
  const { link } = await findLink(db, entry.subjectId, change.transaction)
  if (link.forwardsTo === null)
    throw new Problem(409, 'Cannot be undone', 'This slug has since become a separate link.')
  return dropAlias(db, change, link, request.reason, entry.id)
}

/** Gives a slug again that was taken away from its link. */
const giveAliasAgain: UndoSubject = async (db, change, entry, request) => {
  const before = entry.beforeState as unknown as TaggedLinkState
  const { link } = await findLink(db, before.forwardsTo!, change.transaction)
  const domain = (await db.Domain.findByPk(before.domainId, { transaction: change.transaction }))!
  const reason = request.reason || 'Undone'
  return (await putAlias(db, change, link, domain, before.slug, reason, entry.id)).entry
}
