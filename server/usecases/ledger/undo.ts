import { isDeepStrictEqual } from 'node:util'
import { Op } from 'sequelize'
import type { LedgerEntry } from '../../../core/schemas'
import { standingAt } from '../../../core/table'
import type { Database } from '../../database/open'
import type { LedgerEntryModel, State } from '../../database/models/ledger-entry'
import type { NamesContext } from '../../names/context'
import { caseState, writeCase } from '../docket/case-state'
import { change, type Actor, type Change } from './change'
import { domainState, writeDomain } from '../domains/change-domain'
import { writeLink } from '../links/change-link'
import { findLink } from '../links/find-link'
import { checkForward } from '../links/link-rules'
import { linkState, readTags, type LinkState } from '../links/link-state'
import { isPush, isUndoable, tellEntry } from './list-ledger'
import { notHere, Problem } from '../problem'
import { canonicalFor, moveAddress } from '../links/rename-link'
import { ruleState } from '../rules/rule-state'
import { dropRule, restoreRule, writeRule } from '../rules/rules'
import { applySlugRules } from '../slug-rules/slug-rules'
import { OPEN_RULES } from '../../../core/slugs'
import { undoPush } from '../domains/undo-push'

export interface UndoRequest {
  /** Go ahead although a later change of the same fields is lost. */
  overwrite: boolean
  reason?: string
}

/**
 * Undoes one ledger entry by a change of its own: the fields it changed go back, others stay. Where a later change
 * touched the same fields it is refused with 409 and those entries, unless `overwrite` says to go ahead. The making
 * of a link that was never live is taken back whole; any other made link is retired, so that its slug stays reserved.
 */
export async function undo(
  db: Database,
  names: NamesContext,
  actor: Actor,
  entryId: number,
  request: UndoRequest,
): Promise<LedgerEntry> {
  const pushed = await db.LedgerEntry.findByPk(entryId)
  if (pushed && isPush(pushed)) return undoPush(db, names, actor, pushed, request)
  return change(
    db,
    actor,
    async (under) => {
      const entry = await db.LedgerEntry.findByPk(entryId, { transaction: under.transaction })
      if (!entry) throw notHere('ledger entry')
      if (
        entry.subjectKind !== 'link' &&
        entry.subjectKind !== 'case' &&
        entry.subjectKind !== 'rule' &&
        actor.role !== 'administrator'
      ) {
        throw new Problem(
          403,
          'Not allowed',
          'Only an administrator can undo changes of domains, members and settings.',
        )
      }
      if (!isUndoable(entry)) {
        throw new Problem(
          409,
          'Cannot be undone',
          entry.undoneById === null
            ? 'This entry holds nothing that could be put back.'
            : 'This entry has been undone already.',
        )
      }
      const id = await { link: undoLink, case: undoCase, domain: undoDomain, rule: undoRule }[
        entry.subjectKind as 'link' | 'case' | 'domain' | 'rule'
      ](db, under, entry, request)
      await entry.update({ undoneById: id }, { transaction: under.transaction })
      const made = await db.LedgerEntry.findByPk(id, { transaction: under.transaction })
      return tellEntry(made!)
    },
    { surveyed: true },
  )
}

async function undoLink(db: Database, under: Change, entry: LedgerEntryModel, request: UndoRequest): Promise<number> {
  const id = Number(entry.subjectId)
  const { link, domain } = await findLink(db, id, under.transaction)
  const now = linkState(link, (await readTags(db, [id], under.transaction)).get(id)!)
  const subject = { kind: 'link' as const, id, label: `${domain.host}/${link.slug}` }
  const record = (after: State | null) =>
    under.record({ action: 'undo', subject, reason: request.reason, before: now, after, undoesId: Number(entry.id) })

  if (entry.beforeState === null) {
    await refuseOverwriting(db, under, entry, now, request)
    if (await neverLive(db, under, entry, link)) {
      await link.destroy({ transaction: under.transaction })
      return record(null)
    }
    const after = { ...now, standing: 'retired' }
    await writeLink(db, under, link, domain, after)
    return record(after)
  }
  const after = { ...now, ...(await fieldsToPutBack(db, under, entry, now, request)) } as LinkState & State
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
      under.transaction,
    )
  if (after.canonical !== now.canonical) await moveAddress(db, under, link, domain, after, after.slug !== now.slug)
  await writeLink(db, under, link, domain, after)
  return record(linkState(link, after.tags))
}

async function undoRule(db: Database, under: Change, entry: LedgerEntryModel, request: UndoRequest): Promise<number> {
  const id = Number(entry.subjectId)
  const record = (before: State | null, after: State | null, label: string) =>
    under.record({
      action: 'undo',
      subject: { kind: 'rule', id, label },
      reason: request.reason,
      before,
      after,
      undoesId: Number(entry.id),
    })
  const rule = await db.Rule.findByPk(id, { transaction: under.transaction, lock: under.transaction.LOCK.UPDATE })
  if (entry.afterState === null) {
    if (rule) throw new Problem(409, 'Cannot be undone', 'The rule is there again already.')
    const row = await restoreRule(db, under, id, entry.beforeState!)
    return record(null, ruleState(row), entry.subjectLabel)
  }
  if (!rule) throw new Problem(409, 'Cannot be undone', 'The rule was removed since; undo that first.')
  const now = ruleState(rule)
  if (entry.beforeState === null) {
    await refuseOverwriting(db, under, entry, now, request)
    await dropRule(db, under, rule)
    return record(now, null, entry.subjectLabel)
  }
  const after: State = { ...now, ...(await fieldsToPutBack(db, under, entry, now, request)) }
  if (after.position !== now.position) {
    const rules = await db.Rule.findAll({
      where: { domainId: rule.domainId },
      order: [
        ['position', 'ASC'],
        ['id', 'ASC'],
      ],
      transaction: under.transaction,
      lock: under.transaction.LOCK.UPDATE,
    })
    const order = rules.map((row) => Number(row.id)).filter((other) => other !== id)
    order.splice(Number(after.position) - 1, 0, id)
    for (const [index, other] of order.entries())
      await rules
        .find((row) => Number(row.id) === other)!
        .update({ position: index + 1 }, { transaction: under.transaction })
  }
  await writeRule(under, rule, after)
  return record(now, after, entry.subjectLabel)
}

async function undoDomain(db: Database, under: Change, entry: LedgerEntryModel, request: UndoRequest): Promise<number> {
  const domain = await db.Domain.findByPk(entry.subjectId, { transaction: under.transaction })
  if (!domain) throw notHere('domain')
  const now = domainState(domain)
  const after = { ...now, ...(await fieldsToPutBack(db, under, entry, now, request)) }
  const reading = ['slugRules', 'capitalsMatter', 'trailingSlashMatters'] as const
  if (reading.some((key) => !isDeepStrictEqual(after[key], now[key]))) {
    // Going back is a change of the whole table as well: what it would break or merge must be settled first.
    const rules = {
      ...OPEN_RULES,
      ...(after.slugRules as object),
      capitalsMatter: after.capitalsMatter as boolean,
      trailingSlashMatters: after.trailingSlashMatters as boolean,
    }
    return applySlugRules(db, under, domain, rules, {}, 'keep', {
      action: 'undo',
      reason: request.reason,
      undoesId: Number(entry.id),
    })
  }
  await writeDomain(db, under, domain, after)
  return under.record({
    action: 'undo',
    subject: { kind: 'domain', id: Number(domain.id), label: domain.host },
    reason: request.reason,
    before: now,
    after,
    undoesId: Number(entry.id),
  })
}

async function undoCase(db: Database, under: Change, entry: LedgerEntryModel, request: UndoRequest): Promise<number> {
  const row = await db.DocketCase.findByPk(entry.subjectId, {
    transaction: under.transaction,
    lock: under.transaction.LOCK.UPDATE,
  })
  if (!row) throw notHere('case')
  if (row.state === 'settled' && !row.keptPrint)
    throw new Problem(409, 'Cannot be undone', 'This case has been settled since.')
  const now = caseState(row)
  const after = { ...now, ...(await fieldsToPutBack(db, under, entry, now, request)) }
  const domain =
    row.domainId === null ? null : await db.Domain.findByPk(row.domainId, { transaction: under.transaction })
  return writeCase(under, row, domain?.host, after, 'undo', { reason: request.reason, undoesId: Number(entry.id) })
}

/** The fields the entry changed, as they were before it; refuses where a later change touched them. */
async function fieldsToPutBack(
  db: Database,
  under: Change,
  entry: LedgerEntryModel,
  now: State,
  request: UndoRequest,
): Promise<State> {
  await refuseOverwriting(db, under, entry, now, request)
  const { beforeState: before, afterState: after } = entry
  return Object.fromEntries(
    Object.keys(after!)
      .filter((key) => key !== 'canonical' && !isDeepStrictEqual(before![key], after![key]))
      .map((key) => [key, before![key]]),
  )
}

async function refuseOverwriting(
  db: Database,
  under: Change,
  entry: LedgerEntryModel,
  now: State,
  request: UndoRequest,
): Promise<void> {
  const { beforeState: before, afterState: after } = entry
  // What an address is follows from its slug and the rules of the day.
  const touched = Object.keys(after!).filter(
    (key) =>
      key !== 'canonical' &&
      !isDeepStrictEqual(before?.[key], after![key]) &&
      !isDeepStrictEqual(now[key], after![key]),
  )
  if (touched.length === 0 || request.overwrite) return
  const later = await db.LedgerEntry.findAll({
    where: { subjectKind: entry.subjectKind, subjectId: entry.subjectId, id: { [Op.gt]: entry.id } },
    order: [['id', 'DESC']],
    limit: 20,
    transaction: under.transaction,
  })
  throw new Problem(
    409,
    'Would overwrite a later change',
    `Since then ${touched.join(', ')} of ${entry.subjectLabel} changed again. Undoing this would overwrite the later change.`,
    [],
    { fields: touched, later: later.map(tellEntry) },
  )
}

/** A link that nothing but its making has touched and whose start still lies ahead has been seen by nobody. */
async function neverLive(
  db: Database,
  under: Change,
  entry: LedgerEntryModel,
  link: InstanceType<Database['Link']>,
): Promise<boolean> {
  const standing = standingAt(
    {
      standing: link.standing,
      startsAt: link.startsAt?.getTime() ?? null,
      endsAt: link.endsAt?.getTime() ?? null,
      resumesAt: null,
    },
    under.now.getTime(),
  )
  if (standing !== 'scheduled') return false
  const later = await db.LedgerEntry.count({
    where: { subjectKind: 'link', subjectId: entry.subjectId, id: { [Op.gt]: entry.id } },
    transaction: under.transaction,
  })
  return later === 0
}
