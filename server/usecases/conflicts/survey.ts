import type { Transaction } from 'sequelize'
import type { Survey } from '../../../core/conflicts'
import type { Database } from '../../database/open'
import { inSteps, waitFor, yielder } from '../yield-to-event-loop'
import { catchUp, onOurs, readSurvey, renewSurvey, refreshStale } from './read-survey'
import { takeFigures } from './survey-figures'

interface Holder {
  survey: Survey | undefined
  /** Under way while the register is read anew; all who wait share it. */
  making: Promise<Survey> | undefined
  /** Under way while links of a change to very many are taken in, step by step. */
  draining: Promise<void> | undefined
}
const holders = new WeakMap<Database, Holder>()

/**
 * A reader waits this long for a survey that is made anew; then the one before answers, which was right until just now.
 */
const PATIENCE_MS = 40

async function make(db: Database, known: Survey | undefined, transaction?: Transaction): Promise<Survey> {
  // Under a change's lock everybody waits for it; else nobody does.
  const yieldNow = yielder(transaction ? 'brisk' : 'considerate')
  const survey = known
    ? await renewSurvey(db, known, transaction, yieldNow)
    : await readSurvey(db, transaction, yieldNow)
  await inSteps(survey.scan(), yieldNow)
  return survey
}

function holderOf(db: Database): Holder {
  let holder = holders.get(db)
  if (!holder) holders.set(db, (holder = { survey: undefined, making: undefined, draining: undefined }))
  return holder
}

/** Makes the survey anew, once for all who ask meanwhile. */
function remake(db: Database, holder: Holder): Promise<Survey> {
  return (holder.making ??= make(db, holder.survey)
    .then((fresh) => (holder.survey = fresh))
    .finally(() => (holder.making = undefined)))
}

/** Has what a survey is behind with taken in, once for all who ask; whoever waits for nothing need not. */
function drain(db: Database, holder: Holder, survey: Survey): Promise<void> {
  if (survey.behind.size === 0) return Promise.resolve()
  return (holder.draining ??= (async () => {
    const yieldNow = yielder('considerate')
    while (survey.behind.size > 0) {
      await refreshStale(db, survey, yieldNow)
      await yieldNow()
    }
  })().finally(() => (holder.draining = undefined)))
}

/**
 * The survey as far as circles go: of the links it is behind with, those that can be part of one are taken in. For what
 * is worked out over many links, without a lock.
 */
export async function circleSurvey(db: Database): Promise<Survey> {
  const holder = holderOf(db)
  await readySurvey(db)
  const survey = holder.survey!
  const yieldNow = yielder()
  for (
    let late = await onOurs(db, survey, survey.behind.keys());
    late.length > 0;
    late = late.filter((id) => survey.behind.has(id))
  )
    await refreshStale(db, survey, yieldNow, late)
  return survey
}

/**
 * The survey this process holds, at the ledger's newest revision. While it has to be made anew, as after a domain came
 * to read its addresses otherwise, a reader is given the one before.
 */
export async function currentSurvey(db: Database): Promise<Survey> {
  const holder = holderOf(db)
  if (!holder.survey) return waitFor(remake(db, holder))
  const known = holder.survey
  const patience = new Promise<Survey>((resolve) => setTimeout(() => resolve(holder.survey ?? known), PATIENCE_MS))
  if (!holder.making && (await catchUp(db, known)) !== undefined) {
    const survey = holder.survey ?? known
    if (survey.behind.size === 0) return survey
    const drained = drain(db, holder, survey).then(() => survey)
    // It goes on whoever waits; the next who asks begins it anew where it failed.
    drained.catch(() => undefined)
    return waitFor(Promise.race([drained, patience]))
  }
  return waitFor(Promise.race([remake(db, holder), patience]))
}

/** Brings the figures of visits in this process's survey up to date, where it holds one. */
export async function refreshFigures(db: Database): Promise<void> {
  const { survey } = holderOf(db)
  if (survey) await takeFigures(db, survey)
}

/** Waits until the survey can follow the ledger by what changed alone; for a change, before it takes its lock. */
export async function readySurvey(db: Database): Promise<void> {
  const holder = holderOf(db)
  if (!holder.survey || holder.making || (await catchUp(db, holder.survey)) === undefined)
    await waitFor(remake(db, holder))
  // Nobody waits for it.
  if (holder.survey) drain(db, holder, holder.survey).catch(() => undefined)
}

/**
 * The survey under a change's transaction, which has the lock that all changes take: exactly what the database holds
 * but for the change's own rows, and for links it is behind with, which are taken in where an address passes them.
 */
export async function surveyUnder(db: Database, transaction: Transaction): Promise<Survey> {
  const holder = holderOf(db)
  if (!holder.survey || (await catchUp(db, holder.survey, transaction)) === undefined) {
    // By its own connection: waiting for another's, while holding the lock, might wait for ever.
    holder.survey = await make(db, holder.survey, transaction)
  }
  return holder.survey
}
