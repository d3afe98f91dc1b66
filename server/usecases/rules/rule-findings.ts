import { placeToApply, type Survey } from '../../../core/conflicts'
import type { RuleFinding } from '../../../core/schemas'
import type { Database } from '../../database/open'
import { currentSurvey } from '../conflicts/survey'
import { findDomainNamed } from '../domains/find-domain'

/** For so many rules that never apply a place is looked for; one mends them one by one anyway. */
const MAX_PLACES = 20

interface Known {
  /** What the survey stood at. */
  stand: string
  byDomain: Map<number, RuleFinding[]>
}
const remembered = new WeakMap<Survey, Known>()

/**
 * Rules of a domain that never apply, and pairs that overlap, with what proves it; of a pair the first is named.
 * Remembered for as long as no change was made.
 */
export async function listRuleFindings(db: Database, host: string): Promise<RuleFinding[]> {
  const { id: domainId } = await findDomainNamed(db, host)
  const survey = await currentSurvey(db)
  // Links taken in later, and dates that come, change findings without a revision of their own.
  const stand = `${survey.revision} ${survey.behind.size} ${survey.size} ${survey.state.dated.size}`
  let known = remembered.get(survey)
  if (known?.stand !== stand) remembered.set(survey, (known = { stand, byDomain: new Map() }))
  let found = known.byDomain.get(domainId)
  if (!found) known.byDomain.set(domainId, (found = findingsIn(survey, domainId)))
  return found
}

function findingsIn({ state, conflicts }: Survey, domainId: number): RuleFinding[] {
  const order = (id: number) => state.rules.get(id)?.position ?? 0
  const found: RuleFinding[] = []
  let places = 0
  for (const conflict of conflicts) {
    if (conflict.domainId !== domainId) continue
    const isHidden = conflict.kind === 'hidden' && conflict.links.length === 0
    if (!isHidden && conflict.kind !== 'overlapping') continue
    const [rule, ...others] = isHidden
      ? conflict.rules
      : conflict.rules.toSorted((a, b) => order(a) - order(b) || a - b)
    const place = isHidden && ++places <= MAX_PLACES ? placeToApply(state, domainId, rule!) : undefined
    found.push({
      rule: rule!,
      kind: isHidden ? 'hidden' : 'overlapping',
      others,
      witness: conflict.witness === undefined ? null : state.address(domainId, conflict.witness),
      moveBefore: place ?? null,
    })
  }
  return found
}
