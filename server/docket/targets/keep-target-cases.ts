import { QueryTypes } from 'sequelize'
import {
  causeOfFailure,
  headlineOf,
  isCase,
  judge,
  VERDICTS,
  type Patience,
  type Standing,
} from '../../../core/targets'
import { showHost } from '../../../core/address'
import type { CaseKindName } from '../../../core/docket'
import type { TargetModel } from '../../database/models/target'
import type { Database } from '../../database/open'
import { interestIn, type Interest } from '../../usecases/targets/link-targets'
import { reconcileCases, type Finding } from '../keeper'

/** A move for now is worth a remark once it has stood so long. */
const LASTING_MS = 30 * 86_400_000

/**
 * Keeps the case of one target as its checks so far say: opened where failures are settled or it comes and goes, told
 * anew while that lasts, settled when it answers again or nobody leads there any more. Its key is the target’s own, so
 * that it stays one case whatever goes wrong next.
 */
export async function keepTargetCase(db: Database, target: TargetModel, patience: Patience): Promise<void> {
  const there = await db.DocketCase.findAll({ where: { caseKey: target.hash } })
  // Most targets are sound: who leads there is asked only where there is something to tell.
  const finding = isWorth(target, patience) ? await findingOf(db, target, await interestIn(db, target.hash)) : undefined
  if (!finding && there.every(({ state }) => state === 'settled')) return
  await reconcileCases(db, finding ? [finding] : [], { there, now: new Date() })
}

/** Whether a target is worth a case or a remark, whoever leads there. */
function isWorth({ standing, evidence, checkedAt }: TargetModel, patience: Patience): boolean {
  if (!standing || !evidence || !checkedAt) return false
  const at = checkedAt.getTime()
  const { remark } = VERDICTS[standing.verdict]
  // What our own addresses do among each other is the lane of conflicts’ to tell.
  if (remark ? evidence.hops[0]!.own : evidence.hops.every(({ own }) => own)) return false
  if (remark) return standing.verdict === 'moved-permanently' || at - standing.since >= LASTING_MS
  return isCase(standing, at, patience)
}

async function findingOf(db: Database, target: TargetModel, interest: Interest): Promise<Finding | undefined> {
  const { standing, evidence, checkedAt } = target
  const [first] = interest.links
  if (!standing || !evidence || !checkedAt || !first) return undefined
  const at = checkedAt.getTime()
  const more = interest.links.length - 1
  const printed = await printedPlaces(db, interest)
  const judged = judge(evidence)
  return {
    kind: standing.verdict as CaseKindName,
    key: target.hash,
    cause: causeOfFailure(standing.verdict, evidence),
    domainId: first.domainId,
    linkId: first.id,
    links: interest.links.map(({ id }) => id),
    subject: `${showHost(first.host)}/${first.slug}${more > 0 ? ` and ${more} more` : ''}`,
    severity: standing.confidence === 'broken' ? 'broken' : 'doubtful',
    headline: headlineOf(standing.verdict, evidence, standing.flapping),
    sentence: [standing.sentence, seenWords(standing, at), printed].filter(Boolean).join(' '),
    // Without what differs from check to check: a case is another one only when what it tells of is.
    evidence: judged.facts
      .map(({ label, text, state }) => ({ label, text: text.replace(/,? [\d,]+ ms(?=$|,)/, ''), state }))
      .slice(0, 24),
    impact: interest.visitsADay,
    harmAt: null,
    print: null,
    conflict: null,
  }
}

const hours = (ms: number) => {
  const count = Math.round(ms / 3_600_000)
  if (count >= 48) return `${Math.round(count / 24)} days`
  return count >= 1 ? `${count} ${count === 1 ? 'hour' : 'hours'}` : `${Math.max(1, Math.round(ms / 60_000))} minutes`
}

function seenWords(standing: Standing, at: number): string {
  if (standing.flapping || standing.failingSince === null) return ''
  const { failures, failingSince } = standing
  return `Seen in ${failures === 1 ? 'one check' : `${failures} checks in a row`} over ${hours(at - failingSince)}.`
}

/** Where the short addresses stand on things that cannot be corrected. */
async function printedPlaces(db: Database, interest: Interest): Promise<string> {
  const [row] = await db.sequelize.query<{ places: number }>(
    'SELECT COUNT(*) AS places FROM placement WHERE link_id IN (:ids) AND NOT changeable',
    { replacements: { ids: interest.links.map(({ id }) => id) }, type: QueryTypes.SELECT },
  )
  const places = Number(row?.places ?? 0)
  if (places === 0) return ''
  return `Printed in ${places === 1 ? 'one place' : `${places} places`}, so the short address itself should not change.`
}
