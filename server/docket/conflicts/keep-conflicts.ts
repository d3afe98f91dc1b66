import { impactOf, tellConflict, type Conflict, type Survey } from '../../../core/conflicts'
import type { Database } from '../../database/open'
import type { DocketCaseModel } from '../../database/models/docket-case'
import { conflictKey, printOf } from '../../usecases/conflicts/conflict-gate'
import { returns, settle } from '../keep-cases'

/** Cases kept of one kind and domain; more are a matter of the slug rules, and the scan tells how many there are. */
const MOST_CASES = 300
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
    (group.length <= MOST_CASES
      ? group
      : group.sort((a, b) => b.impact - a.impact || (a.conflict.key < b.conflict.key ? -1 : 1)).slice(0, MOST_CASES)
    ).map(({ conflict }) => conflict),
  )
}

/** Brings the whole lane in line with a survey. */
export async function keepAllConflicts(db: Database, survey: Survey): Promise<void> {
  const kept = toKeep(survey)
  const wanted = new Map(kept.map((conflict) => [conflictKey(conflict), conflict]))
  const there = await db.DocketCase.findAll({ where: { lane: 'conflicts' } })
  // One beyond the most important that has its case already keeps it.
  for (const row of there) {
    const conflict = row.conflict ? survey.conflict(row.conflict.key) : undefined
    if (conflict && row.state !== 'settled') wanted.set(row.caseKey, conflict)
  }
  await write(
    db,
    survey,
    wanted,
    new Map(there.map((row) => [row.caseKey, row])),
    there.filter((row) => !wanted.has(row.caseKey)),
  )
}

/** Brings the cases of some conflicts in line with a survey, found or gone. */
export async function keepConflicts(db: Database, survey: Survey, conflicts: readonly Conflict[]): Promise<void> {
  for (let from = 0; from < conflicts.length; from += CHUNK) {
    const part = conflicts.slice(from, from + CHUNK)
    const there = await db.DocketCase.findAll({ where: { caseKey: part.map(conflictKey) } })
    const wanted = new Map(
      part
        .map((conflict) => [conflictKey(conflict), survey.conflict(conflict.key)])
        .filter((pair): pair is [string, Conflict] => pair[1] !== undefined),
    )
    await write(
      db,
      survey,
      wanted,
      new Map(there.map((row) => [row.caseKey, row])),
      there.filter((row) => !wanted.has(row.caseKey)),
    )
  }
}

async function write(
  db: Database,
  survey: Survey,
  wanted: ReadonlyMap<string, Conflict>,
  there: ReadonlyMap<string, DocketCaseModel>,
  gone: readonly DocketCaseModel[],
): Promise<void> {
  const now = new Date()
  const made: Parameters<Database['DocketCase']['bulkCreate']>[0][number][] = []
  for (const [key, conflict] of wanted) {
    const told = tellConflict(survey.state, conflict)
    const fields = {
      subject: told.subject.slice(0, 500),
      severity: told.severity,
      headline: told.headline.slice(0, 300),
      sentence: told.sentence,
      evidence: told.evidence,
      impact: told.impact,
      conflict,
    }
    const row = there.get(key)
    if (!row) {
      made.push({
        ...fields,
        lane: 'conflicts',
        kind: conflict.kind,
        caseKey: key,
        domainId: conflict.domainId,
        linkId: null,
        openedAt: now,
        seenAt: now,
      })
      continue
    }
    const back = returns(row, now, printOf(survey, conflict))
    const same =
      row.sentence === fields.sentence &&
      Number(row.impact) === fields.impact &&
      row.subject === fields.subject &&
      JSON.stringify(row.conflict) === JSON.stringify(conflict)
    if (!same || Object.keys(back).length > 0) await row.update({ ...fields, ...back, seenAt: now })
  }
  // Another worker may have been quicker with one of them.
  for (let from = 0; from < made.length; from += CHUNK)
    await db.DocketCase.bulkCreate(made.slice(from, from + CHUNK) as never[], { ignoreDuplicates: true })
  for (const row of gone) if (row.state !== 'settled') await settle(row, 'itself', now)
}
