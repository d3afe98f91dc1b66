import { placeToApply } from '../../../core/conflicts'
import type { RuleFinding } from '../../../core/schemas'
import type { Database } from '../../database/open'
import { currentSurvey } from '../conflicts/survey'
import { findDomainNamed } from '../domains/find-domain'

/** Rules of a domain that never apply, and pairs that overlap, with what proves it; of a pair the first is named. */
export async function listRuleFindings(db: Database, host: string): Promise<RuleFinding[]> {
  const { id: domainId } = await findDomainNamed(db, host)
  const { state, conflicts } = await currentSurvey(db)
  const order = (id: number) => state.rules.get(id)?.position ?? 0
  const found: RuleFinding[] = []
  for (const conflict of conflicts) {
    if (conflict.domainId !== domainId) continue
    const isHidden = conflict.kind === 'hidden' && conflict.links.length === 0
    if (!isHidden && conflict.kind !== 'overlapping') continue
    const [rule, ...others] = isHidden
      ? conflict.rules
      : conflict.rules.toSorted((a, b) => order(a) - order(b) || a - b)
    found.push({
      rule: rule!,
      kind: isHidden ? 'hidden' : 'overlapping',
      others,
      witness: conflict.witness === undefined ? null : state.address(domainId, conflict.witness),
      moveBefore: (isHidden && placeToApply(state, domainId, rule!)) || null,
    })
  }
  return found
}
