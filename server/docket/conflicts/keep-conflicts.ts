import { impactOf, type Conflict, type Survey } from '../../../core/conflicts'
import type { Database } from '../../database/open'
import { reconcileCases } from '../keeper'
import { conflictKey, toFinding } from './findings'

/** Cases kept of one kind and domain; more are a matter of the slug rules, and the scan tells how many there are. */
const MAX_CASES = 300
const CHUNK = 400

/** The conflicts that become cases: of each kind and domain those that affect most visits. */
function toKeep(survey: Survey): Conflict[] {
  const groups = new Map<string, { conflict: Conflict; impact: number }[]>()
  for (const conflict of survey.conflicts) {
    const name = `${conflict.kind} ${conflict.domainId}`
    const one = { conflict, impact: impactOf(survey.state, conflict) }
    const group = groups.get(name)
    if (group) group.push(one)
    else groups.set(name, [one])
  }
  return [...groups.values()].flatMap((group) =>
    (group.length <= MAX_CASES
      ? group
      : group.sort((a, b) => b.impact - a.impact || (a.conflict.key < b.conflict.key ? -1 : 1)).slice(0, MAX_CASES)
    ).map(({ conflict }) => conflict),
  )
}

/** Brings the whole lane in line with a survey. */
export async function keepAllConflicts(db: Database, survey: Survey): Promise<void> {
  const wanted = new Map(toKeep(survey).map((conflict) => [conflictKey(conflict), conflict]))
  const there = await db.DocketCase.findAll({ where: { lane: 'conflicts' } })
  // One beyond the most important that has its case already keeps it.
  for (const row of there) {
    const conflict = row.conflict ? survey.conflict(row.conflict.key) : undefined
    if (conflict && row.state !== 'settled') wanted.set(row.caseKey, conflict)
  }
  await reconcileCases(
    db,
    [...wanted.values()].map((conflict) => toFinding(survey, conflict)),
    { there, now: new Date() },
  )
}

/** Brings the cases of some conflicts in line with a survey, found or gone. */
export async function keepConflicts(db: Database, survey: Survey, conflicts: readonly Conflict[]): Promise<void> {
  for (let from = 0; from < conflicts.length; from += CHUNK) {
    const part = conflicts.slice(from, from + CHUNK)
    const there = await db.DocketCase.findAll({ where: { caseKey: part.map(conflictKey) } })
    const now = part.map(({ key }) => survey.conflict(key)).filter((conflict) => conflict !== undefined)
    await reconcileCases(
      db,
      now.map((conflict) => toFinding(survey, conflict)),
      { there, now: new Date() },
    )
  }
}
