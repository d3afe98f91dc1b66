import { isFailure, judge } from '../../../core/targets'
import { checkDestination } from '../../targets/check'
import { Busy } from '../../targets/asker'
import type { NamesContext } from '../../names/context'
import type { Database } from '../../database/open'
import { Problem } from '../problem'
import { makeChecks } from './check-context'
import { makeOnline } from './online'

const checks = new WeakMap<Database, ReturnType<typeof makeChecks>>()
const onlines = new WeakMap<Database, ReturnType<typeof makeOnline>>()

/** This process’s checks; made once. */
export function checksOf(db: Database, names: NamesContext): ReturnType<typeof makeChecks> {
  const made = checks.get(db) ?? makeChecks(db, names)
  checks.set(db, made)
  return made
}

/** What tells whether this machine itself is cut off; made once. */
export function onlineOf(db: Database, names: NamesContext): ReturnType<typeof makeOnline> {
  const made = onlines.get(db) ?? makeOnline(db, names)
  onlines.set(db, made)
  return made
}

/** Asks a place once more before visitors are sent there; refuses where it does not answer as it did. */
export async function tryAgain(db: Database, names: NamesContext, destination: string): Promise<void> {
  const { asker } = await checksOf(db, names)()
  try {
    const { evidence } = await checkDestination(asker, destination)
    const judged = judge(evidence)
    if (isFailure(judged.verdict))
      throw new Problem(
        409,
        'Does not answer any more',
        `${destination} answered when it was tried, but not now. ${judged.sentence}`,
      )
  } catch (error) {
    if (!(error instanceof Busy)) throw error
    throw new Problem(409, 'Cannot be tried now', `${error.host} asked to be left alone for a while; try again later.`)
  }
}
