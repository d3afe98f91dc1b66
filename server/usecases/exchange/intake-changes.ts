import { QueryTypes, type Transaction } from 'sequelize'
import { fromJson } from '../../database/json'
import type { Database } from '../../database/open'
import type { IntakeModel } from '../../database/models/intake'
import type { Part } from '../changes/write-many'
import { takenFamilies } from './intake-view'
import { fromKept, type LinkToBe, type RuleToBe } from './judged-row'

const PAGE = 1000

interface LinkRow {
  position: number
  kind: string
  state: unknown
  decision: string
  code: string
  hash: string | null
}

/** The links a file makes, page by page: those of families that are taken are left to their rule. */
export async function* linksToMake(
  db: Database,
  intake: IntakeModel,
  transaction?: Transaction,
): AsyncGenerator<{ state: LinkToBe; hash: string | null; clashes: boolean }[]> {
  for (let after = 0; ;) {
    const rows = await db.sequelize.query<LinkRow>(
      `SELECT position, kind, state, decision, code, hash FROM intake_row
       WHERE intake_id = :id AND position > :after AND decision IN ('bring', 'paused') AND link_version IS NULL
         AND JSON_EXISTS(state, '$.slug') AND COALESCE(family IN (:taken), FALSE) = FALSE
       ORDER BY position LIMIT ${PAGE}`,
      {
        replacements: { id: intake.id, after, taken: [...takenFamilies(intake), -1] },
        type: QueryTypes.SELECT,
        transaction,
      },
    )
    if (rows.length === 0) return
    after = Number(rows.at(-1)!.position)
    yield rows.map((row) => {
      const state = fromKept(fromJson<Partial<LinkToBe>>(row.state))
      return {
        state: {
          ...state,
          exception: row.code === 'rule-breaker',
          standing: row.decision === 'paused' ? ('paused' as const) : state.standing,
        },
        hash: row.hash,
        clashes: row.kind === 'clash',
      }
    })
  }
}

/** The links a file changes, in the order of their numbers. */
export async function* partsToChange(
  db: Database,
  intake: IntakeModel,
  transaction?: Transaction,
): AsyncGenerator<Part[]> {
  for (let after = 0; ;) {
    const rows = await db.sequelize.query<{
      link_id: number
      link_version: number
      before_state: unknown
      state: unknown
    }>(
      `SELECT link_id, link_version, before_state, state FROM intake_row
       WHERE intake_id = ? AND link_id > ? AND decision = 'replace' AND link_version IS NOT NULL
       ORDER BY link_id LIMIT ${PAGE}`,
      { replacements: [intake.id, after], type: QueryTypes.SELECT, transaction },
    )
    if (rows.length === 0) return
    after = Number(rows.at(-1)!.link_id)
    yield rows.map((row) => ({
      linkId: Number(row.link_id),
      version: Number(row.link_version),
      before: fromJson<Part['before']>(row.before_state),
      after: fromJson<Part['after']>(row.state),
    }))
  }
}

/** A rule to be made, and whether somebody decided for it though it clashes. */
export interface RuleToMake {
  state: RuleToBe
  clashes: boolean
}

/**
 * The rules a file makes: those that stand in for links of one shape, as links are asked before rules, then those it
 * holds, in the order in which its own program asks them.
 */
export async function rulesToMake(db: Database, intake: IntakeModel, transaction?: Transaction): Promise<RuleToMake[]> {
  const rows = await db.sequelize.query<{ kind: string; state: unknown }>(
    `SELECT kind, state FROM intake_row
     WHERE intake_id = ? AND decision = 'bring' AND JSON_EXISTS(state, '$.pattern') ORDER BY position`,
    { replacements: [intake.id], type: QueryTypes.SELECT, transaction },
  )
  const families = takenFamilies(intake).map((number): RuleToMake => {
    const { domainId, pattern, destination, status, query, queryConflict } = intake.about!.families![number]!
    const state: RuleToBe = {
      domainId,
      title: '',
      syntax: 'path',
      pattern,
      destination,
      status,
      query: query ?? 'discard',
      queryConflict: queryConflict ?? 'destination',
      condition: [],
      except: [],
      rank: 0,
    }
    return { state, clashes: false }
  })
  const held = rows.map(({ kind, state }) => ({ state: fromJson<RuleToBe>(state), clashes: kind === 'clash' }))
  return [...families, ...held.sort((a, b) => a.state.rank - b.state.rank)]
}
