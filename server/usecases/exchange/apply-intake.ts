import { QueryTypes, type Transaction } from 'sequelize'
import type { Intake } from '../../../core/schemas'
import { fromJson } from '../../database/json'
import type { Database } from '../../database/open'
import type { IntakeModel } from '../../database/models/intake'
import { changeOverAt } from '../changes/apply-proposal'
import { OwnParts, refuseCircles } from '../changes/check-circles'
import { withinOf, writeMany, type Part } from '../changes/write-many'
import { circleSurvey } from '../conflicts/survey'
import type { Actor } from '../ledger/change'
import { changedMeanwhile, Problem } from '../problem'
import { countIntake, takenFamilies, toIntakeView } from './intake-view'
import { findIntake, refuseClosed } from './intakes'
import type { LinkToBe, RuleToBe } from './judged-row'
import { makeLinks } from './made-links'
import { makeRules } from './made-rules'

const PAGE = 500

/**
 * Brings a file in as it was decided: all of it or nothing, in one transaction, as one entry of the ledger. What is
 * undecided stays as it is. A link or address that changed meanwhile refuses all of it with 409.
 */
export async function applyIntake(db: Database, actor: Actor, id: number, version: number): Promise<Intake> {
  const intake = await findIntake(db, id)
  refuseClosed(intake)
  if (intake.version !== version) throw changedMeanwhile('this file', await toIntakeView(db, id), null)
  const counts = await countIntake(db, intake)
  const { bring, rules, replace } = counts
  if (bring + rules + replace === 0)
    throw new Problem(409, 'Nothing to bring in', 'No row is left that would be brought in; decide of some first.')
  const [mine] = await db.Intake.update(
    { state: 'applying', seenAt: new Date() },
    { where: { id, state: 'ready', version } },
  )
  if (mine === 0) throw new Problem(409, 'Already under way', 'Somebody else is bringing this file in already.')
  try {
    await write(db, actor, intake, { bring, rules, replace })
  } catch (error) {
    await db.Intake.update({ state: 'ready' }, { where: { id, state: 'applying' } }).catch(() => undefined)
    throw error
  }
  return toIntakeView(db, id)
}

const plural = (count: number, one: string) => `${count.toLocaleString('en')} ${count === 1 ? one : `${one}s`}`

async function write(
  db: Database,
  actor: Actor,
  intake: IntakeModel,
  { bring, rules, replace }: { bring: number; rules: number; replace: number },
): Promise<number> {
  const survey = await circleSurvey(db)
  const own = new OwnParts(survey)
  const taken = takenFamilies(intake)
  const words = [
    bring > 0 && `${plural(bring, 'link')} made`,
    rules > 0 && `${plural(rules, 'rule')} made`,
    replace > 0 && `${plural(replace, 'link')} changed`,
  ]
    .filter(Boolean)
    .join(', ')
  return writeMany(db, actor, {
    async first(context) {
      for await (const page of linksOf(db, intake.id, taken, context.transaction)) {
        await makeLinks(db, context.transaction, page, context.hosts, (linkId, before, after) => {
          own.add([{ linkId, before: {}, after: { destination: (after as LinkToBe).destination } }])
          context.keep(linkId, before, after)
        })
        await context.write()
      }
    },
    async *parts(transaction) {
      for await (const page of partsOf(db, intake.id, transaction)) {
        own.add(page)
        yield page
      }
    },
    about: {
      action: 'import',
      subject: { kind: 'links', id: 0, label: `${intake.name}: ${words}` },
      reason: intake.reason,
      before: { count: bring + replace },
      after: { count: bring + replace, words: `brought in ${intake.name}: ${words}`, intake: intake.id },
    },
    // Gateways take rules in at once: what they except must be there with them.
    liveAt: (now) => (rules > 0 ? null : changeOverAt(bring + replace, now)),
    lastLook: (transaction) => refuseCircles(db, transaction, survey, own, survey.revision),
    async along(context) {
      await makeRules(
        db,
        withinOf(actor, context),
        await rulesOf(db, intake, taken, context.transaction),
        context.hosts,
      )
      const [done] = await db.Intake.update(
        { state: 'applied', entryId: context.entryId, endedAt: new Date(), version: intake.version! + 1 },
        { where: { id: intake.id, state: 'applying' }, transaction: context.transaction },
      )
      if (done === 0) throw new Problem(409, 'Already under way', 'Somebody else is bringing this file in already.')
    },
  })
}

/** The links a file makes, page by page: those of families that are taken are left to their rule. */
async function* linksOf(
  db: Database,
  id: number,
  taken: readonly number[],
  transaction: Transaction,
): AsyncGenerator<{ state: LinkToBe }[]> {
  for (let after = 0; ;) {
    const rows = await db.sequelize.query<{ position: number; state: unknown; decision: string; code: string }>(
      `SELECT position, state, decision, code FROM intake_row
       WHERE intake_id = :id AND position > :after AND decision IN ('bring', 'paused') AND link_version IS NULL
         AND JSON_EXISTS(state, '$.slug') AND COALESCE(family IN (:taken), FALSE) = FALSE
       ORDER BY position LIMIT ${PAGE}`,
      { replacements: { id, after, taken: [...taken, -1] }, type: QueryTypes.SELECT, transaction },
    )
    if (rows.length === 0) return
    after = Number(rows.at(-1)!.position)
    yield rows.map((row) => {
      const state = fromJson<LinkToBe>(row.state)
      return {
        state: {
          ...state,
          exception: row.code === 'rule-breaker',
          standing: row.decision === 'paused' ? ('paused' as const) : state.standing,
        },
      }
    })
  }
}

/** The links a file changes, in the order of their numbers. */
async function* partsOf(db: Database, id: number, transaction: Transaction): AsyncGenerator<Part[]> {
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
      { replacements: [id, after], type: QueryTypes.SELECT, transaction },
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

/** The rules a file makes: those it holds, in its order, then those that stand in for links of one shape. */
async function rulesOf(
  db: Database,
  intake: IntakeModel,
  taken: readonly number[],
  transaction: Transaction,
): Promise<RuleToBe[]> {
  const rows = await db.sequelize.query<{ state: unknown }>(
    `SELECT state FROM intake_row
     WHERE intake_id = ? AND decision = 'bring' AND JSON_EXISTS(state, '$.pattern') ORDER BY position`,
    { replacements: [intake.id], type: QueryTypes.SELECT, transaction },
  )
  const families = taken.map((number): RuleToBe => {
    const { domainId, pattern, destination, status, query, queryConflict } = intake.about!.families![number]!
    return {
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
    }
  })
  return [...rows.map(({ state }) => fromJson<RuleToBe>(state)), ...families]
}
