import { QueryTypes } from 'sequelize'
import type { IntakeCause, IntakeDecision } from '../../../core/schemas'
import type { Database } from '../../database/open'
import { choicesOf, IS_RULE } from './intake-choices'

/** Causes listed, those of most rows first; rows of others are decided one by one. */
const MAX_CAUSES = 50

interface RawCause {
  code: string
  cause: string
  how_many: number
  undecided: number
  decisions: number
  decision: IntakeDecision | null
  rules: number
  links: number
  changes: number
}

/**
 * The causes for which several rows of an import conflict, with what may be decided for all of them together. A row
 * with a cause of its own is not listed.
 */
export async function listClashCauses(db: Database, id: number): Promise<IntakeCause[]> {
  const rows = await db.sequelize.query<RawCause>(
    `SELECT r.code, r.cause, COUNT(*) AS how_many, SUM(r.decision IS NULL) AS undecided,
       COUNT(DISTINCT r.decision) AS decisions, MIN(r.decision) AS decision, SUM(${IS_RULE}) AS rules,
       SUM(r.link_version IS NULL AND NOT ${IS_RULE}) AS links, SUM(r.link_version IS NOT NULL) AS changes
     FROM intake_row r WHERE r.intake_id = :id AND r.kind = 'clash' AND r.state IS NOT NULL
     GROUP BY r.code, r.cause HAVING how_many > 1 ORDER BY how_many DESC, r.code, r.cause LIMIT ${MAX_CAUSES}`,
    { replacements: { id }, type: QueryTypes.SELECT },
  )
  return rows.map((row) => {
    const undecided = Number(row.undecided)
    return {
      code: row.code,
      cause: row.cause,
      rows: Number(row.how_many),
      undecided,
      decision: undecided === 0 && Number(row.decisions) === 1 ? row.decision : null,
      choices: sharedChoices(row),
    }
  })
}

/** What may be decided for rules, new links and changed links alike, as far as each of them is among the rows. */
function sharedChoices({ rules, links, changes }: RawCause): IntakeDecision[] {
  const clash = { kind: 'clash', has_state: 1 } as const
  const sorts = [
    ...(Number(rules) > 0 ? [choicesOf({ ...clash, is_rule: 1, link_version: null })] : []),
    ...(Number(links) > 0 ? [choicesOf({ ...clash, is_rule: 0, link_version: null })] : []),
    ...(Number(changes) > 0 ? [choicesOf({ ...clash, is_rule: 0, link_version: 1 })] : []),
  ]
  return sorts.reduce((shared, one) => shared.filter((choice) => one.includes(choice)))
}
