import { isDeepStrictEqual } from 'node:util'
import { OPEN_RULES } from '../../../core/slugs'
import { fieldsToPutBack, type UndoSubject } from '../ledger/put-back'
import { applySlugRules } from '../slug-rules/apply-slug-rules'
import { domainState, writeDomain } from './change-domain'
import { checkFallbacks } from './check-fallbacks'
import { findDomain } from './find-domain'

/** Puts the fields an entry changed of a domain back. */
export const undoDomain: UndoSubject = async (db, change, entry, request) => {
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
