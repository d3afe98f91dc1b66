import { tellConflict, type Conflict, type Survey, type SurveyChange, type ToldConflict } from '../../../core/conflicts'
import type { ConflictTold } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { Change } from '../ledger/change'
import { isRemark } from '../../../core/docket'
import { keepAsDecided, type Finding } from '../../docket/keeper'
import { toFinding } from '../../docket/conflicts/findings'
import { Problem, type FieldFault } from '../problem'
import { readChanged } from './read-survey'

/** A conflict with its words. */
export interface GatedConflict {
  conflict: Conflict
  told: ToldConflict
  finding: Finding
}

/** A conflict as the API tells it. */
export const tellGated = ({ conflict, told }: GatedConflict, survey: Survey): ConflictTold => ({
  key: conflict.key,
  kind: conflict.kind,
  subject: told.subject,
  severity: told.severity,
  headline: told.headline,
  sentence: told.sentence,
  impact: told.impact,
  witness: conflict.witness === undefined ? null : survey.state.address(conflict.domainId, conflict.witness),
})

/** Conflicts that a change would bring: new ones, and those that links or rules would become part of. */
export function conflictsOf(survey: Survey, change: SurveyChange): GatedConflict[] {
  const touched = new Set((change.links ?? []).map(({ id }) => id))
  const diff = survey.preview(change)
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
  const gated = found.map((conflict) => ({
    conflict,
    told: tellConflict(survey.state, conflict),
    finding: toFinding(survey, conflict),
  }))
  survey.state.putRows(inverse)
  return gated.sort(
    (a, b) =>
      Number(b.told.severity === 'broken') - Number(a.told.severity === 'broken') || b.told.impact - a.told.impact,
  )
}

interface WrittenIds {
  links?: number[]
  rules?: number[]
  domains?: number[]
}

/** What the rows this change has written would be in conflict with. */
async function conflictsOfWritten(db: Database, under: Change, ids: WrittenIds): Promise<GatedConflict[]> {
  const change = await readChanged(
    db,
    { links: ids.links ?? [], rules: ids.rules ?? [], domains: ids.domains ?? [] },
    under.transaction,
  )
  const known = under.survey.state.rules
  change.rules = change.rules?.filter((rule) => JSON.stringify(rule) !== JSON.stringify(known.get(rule.id)))
  return conflictsOf(under.survey, change)
}

/**
 * Refuses what leads in a circle, which no reason lifts. For an undoing: what else it brings into conflict stood so
 * before, and becomes a case of its own.
 */
export async function refuseLoops(db: Database, under: Change, ids: WrittenIds): Promise<void> {
  const found = await conflictsOfWritten(db, under, ids)
  const loop = found.find(({ conflict }) => conflict.kind === 'loop')
  if (loop) throw refusal(422, 'Leads in a circle', loop.told.sentence, '/destination', found, under.survey)
}

/**
 * Compares the rows this change has written with all others. Refuses loops; refuses other conflicts unless a reason
 * says why they are wanted. Gives those that are, to be noted by `acceptConflicts`.
 */
export async function refuseConflicts(
  db: Database,
  under: Change,
  ids: WrittenIds,
  reason: string | undefined,
): Promise<GatedConflict[]> {
  const { survey } = under
  const found = await conflictsOfWritten(db, under, ids)
  const loop = found.find(({ conflict }) => conflict.kind === 'loop')
  if (loop) throw refusal(422, 'Leads in a circle', loop.told.sentence, '/destination', found, survey)
  const breaker = found.find(({ conflict }) => conflict.kind === 'rule-breaker')
  if (breaker && under.actor.role === 'editor')
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
    const detail = `${first.told.sentence}${more} Say why it is wanted all the same, or change it.`
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
    conflicts: found.slice(0, 20).map((one) => tellGated(one, survey)),
  })
}

/**
 * Notes conflicts that somebody decided to keep, with the reason: settled cases that come back when what they are about
 * changes.
 */
export const acceptConflicts = (
  db: Database,
  under: Change,
  found: readonly Pick<GatedConflict, 'finding'>[],
  reason: string | undefined,
): Promise<void> =>
  keepAsDecided(
    db,
    found.map(({ finding }) => finding),
    { by: under.actor.name, reason: reason ?? '', now: under.now, transaction: under.transaction },
  )
