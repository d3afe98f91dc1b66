import {
  describeConflict,
  type Conflict,
  type Survey,
  type SurveyChange,
  type ConflictDescription,
} from '../../../core/conflicts'
import type { ConflictView } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { Change } from '../ledger/change'
import { isRemark } from '../../../core/docket'
import { keepAsDecided, type Finding } from '../../docket/keeper'
import { toFinding } from '../../docket/conflicts/findings'
import { Problem, type FieldFault } from '../problem'
import { readChanged, refreshStaleOnWay } from './read-survey'

/** A conflict with its words. */
export interface GatedConflict {
  conflict: Conflict
  description: ConflictDescription
  finding: Finding
}

/** A conflict as the API tells it. */
export const toConflictView = ({ conflict, description }: GatedConflict, survey: Survey): ConflictView => ({
  key: conflict.key,
  kind: conflict.kind,
  subject: description.subject,
  severity: description.severity,
  headline: description.headline,
  sentence: description.sentence,
  impact: description.impact,
  witness: conflict.witness === undefined ? null : survey.state.address(conflict.domainId, conflict.witness),
})

/** Conflicts in words, as the rows stand now. */
export const describeAll = (survey: Survey, conflicts: readonly Conflict[]): GatedConflict[] =>
  conflicts.map((conflict) => ({
    conflict,
    description: describeConflict(survey.state, conflict),
    finding: toFinding(survey, conflict),
  }))

/** Conflicts that a change would bring: new ones, and those that links or rules would become part of. */
export function conflictsOf(survey: Survey, change: SurveyChange, diff = survey.preview(change)): GatedConflict[] {
  const touched = new Set((change.links ?? []).map(({ id }) => id))
  const joined = diff.changed
    .filter(
      ({ before, now }) =>
        now.links.some((id) => touched.has(id) && !before.links.includes(id)) || (now.count ?? 0) > (before.count ?? 0),
    )
    .map(({ now }) => now)
  const found = [...diff.added, ...joined]
  if (found.length === 0) return []
  // Told as it would be: names and destinations of rows that are not there yet must be known.
  const inverse = survey.state.putRows(change)
  let gated: GatedConflict[]
  try {
    gated = describeAll(survey, found)
  } finally {
    // Others compare with these rows, whether this change is made or not.
    survey.state.putRows(inverse)
  }
  return gated.sort(
    (a, b) =>
      Number(b.description.severity === 'broken') - Number(a.description.severity === 'broken') ||
      b.description.impact - a.description.impact,
  )
}

interface WrittenIds {
  links?: number[]
  rules?: number[]
  domains?: number[]
}

/** What the rows this change has written would be in conflict with. */
async function conflictsOfWritten(db: Database, change: Change, ids: WrittenIds): Promise<GatedConflict[]> {
  const proposed = await readChanged(
    db,
    { links: ids.links ?? [], rules: ids.rules ?? [], domains: ids.domains ?? [] },
    change.transaction,
  )
  const known = change.survey.state.rules
  proposed.rules = proposed.rules?.filter((rule) => JSON.stringify(rule) !== JSON.stringify(known.get(rule.id)))
  await refreshStaleOnWay(db, change.survey, proposed.links ?? [], new Set(ids.links), change.transaction)
  return conflictsOf(change.survey, proposed)
}

/**
 * Refuses what leads in a circle, which no reason lifts. For an undoing: what else it brings into conflict stood so
 * before, and becomes a case of its own.
 */
export async function refuseLoops(db: Database, change: Change, ids: WrittenIds): Promise<void> {
  const found = await conflictsOfWritten(db, change, ids)
  const loop = found.find(({ conflict }) => conflict.kind === 'loop')
  if (loop) throw refusal(422, 'Redirect loop', loop.description.sentence, '/destination', found, change.survey)
}

/**
 * Compares the rows this change has written with all others. Refuses loops; refuses other conflicts unless a reason
 * says why they are wanted. Gives those that are, to be noted by `acceptConflicts`.
 */
export async function refuseConflicts(
  db: Database,
  change: Change,
  ids: WrittenIds,
  reason: string | undefined,
): Promise<GatedConflict[]> {
  const { survey } = change
  const found = await conflictsOfWritten(db, change, ids)
  const loop = found.find(({ conflict }) => conflict.kind === 'loop')
  if (loop) throw refusal(422, 'Redirect loop', loop.description.sentence, '/destination', found, survey)
  const breaker = found.find(({ conflict }) => conflict.kind === 'rule-breaker')
  if (breaker && change.actor.role === 'editor')
    throw refusal(
      422,
      'Against the slug rules',
      `slug: ${breaker.conflict.sentences!.join(' ')} An administrator may make an exception.`,
      '/slug',
      found,
      survey,
    )
  // Twins and chains are ordinary work: told, and asked no reason for.
  const wanted = found.filter(({ finding }) => !isRemark(finding))
  const [first, ...others] = wanted
  if (first && !reason) {
    const more =
      others.length === 0
        ? ''
        : ` ${others.length} more ${others.length === 1 ? 'conflict' : 'conflicts'} would come of it.`
    const detail = `${first.description.sentence}${more} Change it, or enter a reason to save anyway.`
    throw refusal(409, 'Would be in conflict', detail, '/reason', found, survey)
  }
  return wanted
}

function refusal(
  status: number,
  title: string,
  detail: string,
  pointer: string,
  found: readonly GatedConflict[],
  survey: Survey,
): Problem {
  const errors: FieldFault[] = [{ pointer, detail }]
  return new Problem(status, title, detail, errors, {
    conflicts: found.slice(0, 20).map((one) => toConflictView(one, survey)),
  })
}

/**
 * Notes conflicts that somebody decided to keep, with the reason: settled cases that come back when what they are about
 * changes.
 */
export const acceptConflicts = (
  db: Database,
  change: Change,
  found: readonly Pick<GatedConflict, 'finding'>[],
  reason: string | undefined,
): Promise<void> =>
  keepAsDecided(
    db,
    found.map(({ finding }) => finding),
    { by: change.actor.name, reason: reason ?? '', now: change.now, transaction: change.transaction },
  )
