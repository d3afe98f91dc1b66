import { isDeepStrictEqual } from 'node:util'
import { OPEN_RULES } from '../../../core/slugs'
import { fieldsToPutBack, type UndoSubject } from '../ledger/put-back'
import { applySlugRules } from '../slug-rules/apply-slug-rules'
import { domainState, writeDomain } from './change-domain'
import { checkFallbacks } from './check-fallbacks'
import { findDomain } from './find-domain'
import { restoreDomain } from './remove-domain'

/** Puts the fields an entry changed of a domain back; of one that was removed, the whole of it. */
export const undoDomain: UndoSubject = async (db, change, entry, request) => {
  if (entry.action === 'remove') {
    const restored = await restoreDomain(db, change, entry.subjectId, entry.beforeState ?? {})
    return change.record({
      action: 'undo',
      subject: { kind: 'domain', id: restored.id, label: restored.host },
      reason: request.reason,
      before: null,
      after: { ...domainState(restored), host: restored.host },
      undoesId: entry.id,
    })
  }
  const domain = await findDomain(db, entry.subjectId, change.transaction)
  const now = domainState(domain)
  const after = { ...now, ...(await fieldsToPutBack(db, change, entry, now, request)) }
  const reading = ['slugRules', 'capitalsMatter', 'trailingSlashMatters'] as const
  if (reading.some((key) => !isDeepStrictEqual(after[key], now[key]))) {
    // Going back is a change of the whole table as well: what it would break or merge must be settled first.
    const rules = {
      ...OPEN_RULES,
      ...(after.slugRules as object),
      capitalsMatter: after.capitalsMatter as boolean,
      trailingSlashMatters: after.trailingSlashMatters as boolean,
    }
    return applySlugRules(db, change, domain, rules, {}, 'keep', {
      action: 'undo',
      reason: request.reason,
      undoesId: entry.id,
    })
  }
  checkFallbacks(change, domain, now, after)
  await writeDomain(db, change, domain, after)
  return change.record({
    action: 'undo',
    subject: { kind: 'domain', id: domain.id, label: domain.host },
    reason: request.reason,
    before: now,
    after,
    undoesId: entry.id,
  })
}
