import type { Intake } from '../../../core/schemas'
import { counted } from '../../../core/text/counted'
import type { Database } from '../../database/open'
import type { IntakeModel } from '../../database/models/intake'
import { changeOverAt } from '../changes/apply-proposal'
import { OwnParts, refuseCircles } from '../changes/check-circles'
import { withinOf, writeMany } from '../changes/write-many'
import { circleSurvey } from '../conflicts/survey'
import { LeasedWork, LeaseLost } from '../jobs/leased-work'
import type { Actor } from '../ledger/change'
import { versionConflict, Problem } from '../problem'
import { acceptClashes } from './accept-clashes'
import { linksToMake, partsToChange, rulesToMake } from './intake-changes'
import { expectedOf, importJobs, type ImportWork } from './import-jobs'
import { countIntake, toIntakeView } from './intake-view'
import { findIntake, refuseClosed } from './intakes'
import type { LinkToBe } from './judged-row'
import { makeLinks } from './made-links'
import { makeRules } from './made-rules'

/** Progress is noted so often, in milliseconds. */
const PROGRESS_MS = 700

/**
 * Brings a file in as it was decided: all of it or nothing, in one transaction, as one entry of the ledger. What is
 * undecided stays as it is. A link or address that changed meanwhile refuses all of it with 409.
 */
export async function applyIntake(db: Database, actor: Actor, id: number, version: number): Promise<Intake> {
  const intake = await findIntake(db, id)
  refuseClosed(intake)
  if (intake.version !== version) throw versionConflict('this file', await toIntakeView(db, id), null)
  const counts = await countIntake(db, intake)
  const { bring, rules, replace } = counts
  if (bring + rules + replace === 0)
    throw new Problem(409, 'Nothing to import', 'No lines to import. Decide on some lines first.')
  const work = await LeasedWork.begin(
    importJobs(db),
    expectedOf(intake),
    'applying',
    { state: 'ready', problem: 'Importing was interrupted; nothing of the file was imported.' },
    { done: 0, total: bring + replace, problem: '' },
  )
  if (!work) {
    refuseClosed(await findIntake(db, id))
    throw versionConflict('this file', await toIntakeView(db, id), null)
  }
  // Whoever reads it sees the progress, and may cancel it.
  let done = 0
  const progress = setInterval(() => void work.beat({ done }).catch(() => undefined), PROGRESS_MS)
  try {
    await work.run(() =>
      write(db, actor, intake, work, { bring, rules, replace }, (links) => {
        work.check()
        done += links
      }),
    )
  } catch (error) {
    await work.finish({ to: 'ready' }).catch(() => undefined)
    throw error instanceof LeaseLost ? stopped() : error
  } finally {
    clearInterval(progress)
  }
  return toIntakeView(db, id)
}

const stopped = () => new Problem(409, 'Stopped', 'It was cancelled. Nothing was imported.')

async function write(
  db: Database,
  actor: Actor,
  intake: IntakeModel,
  work: ImportWork,
  { bring, rules, replace }: { bring: number; rules: number; replace: number },
  tell: (links: number) => void,
): Promise<number> {
  const survey = await circleSurvey(db)
  const own = new OwnParts(survey)
  const words = [
    bring > 0 && `${counted(bring, 'link')} made`,
    rules > 0 && `${counted(rules, 'rule')} made`,
    replace > 0 && `${counted(replace, 'link')} changed`,
  ]
    .filter(Boolean)
    .join(', ')
  /** Links that were decided for though they clash. */
  let clashing: number[] = []
  return writeMany(db, actor, {
    async first(context) {
      clashing = []
      for await (const page of linksToMake(db, intake, context.transaction)) {
        let index = 0
        await makeLinks(db, context.transaction, page, context.hosts, (linkId, before, after) => {
          own.add([{ linkId, before: {}, after: { destination: (after as LinkToBe).destination } }])
          if (page[index++]!.clashes) clashing.push(linkId)
          context.keep(linkId, before, after)
        })
        await context.write()
        tell(page.length)
      }
    },
    async *parts(transaction) {
      for await (const page of partsToChange(db, intake, transaction)) {
        own.add(page)
        yield page
        tell(page.length)
      }
    },
    about: {
      action: 'import',
      subject: { kind: 'links', id: 0, label: `${intake.name}: ${words}` },
      reason: intake.reason,
      before: { count: bring + replace },
      after: { count: bring + replace, words: `imported ${intake.name}: ${words}`, intake: intake.id },
    },
    // Gateways take rules in at once: what they except must be there with them.
    liveAt: (now) => (rules > 0 ? null : changeOverAt(bring + replace, now)),
    lastLook: (transaction) => refuseCircles(db, transaction, survey, own, survey.revision),
    async along(context) {
      const { transaction, hosts } = context
      const rules = await rulesToMake(db, intake, transaction)
      const states = rules.map(({ state }) => state)
      const numbers = await makeRules(db, withinOf(actor, context), states, hosts)
      const clashingRules = numbers.filter((_, index) => rules[index]!.clashes)
      const made = { links: clashing, rules: clashingRules }
      await acceptClashes(db, survey, { transaction, actor, reason: intake.reason }, made)
      const values = { entry_id: context.entryId, ended_at: new Date() }
      await work.finish({ to: 'applied', values }, transaction)
      // What was brought in is in the ledger; its file is needed no more.
      await db.sequelize.query('DELETE FROM intake_source WHERE intake_id = ?', {
        replacements: [intake.id],
        transaction,
      })
    },
  })
}
