import { openDatabase } from '../database/open'
import { computeIntake } from '../usecases/exchange/compute-intake'
import { importJobs, type ImportWork } from '../usecases/exchange/import-jobs'
import { LeasedWork } from '../usecases/jobs/leased-work'
import { Problem } from '../usecases/problem'
import { serveParent, tellParent } from './child'

/** What a reading process is given when it starts: the work, whose heartbeat the one that started it keeps up. */
export interface IntakeWork {
  databaseUrl: string
  expected: ImportWork['expected']
}

/** What came of it: nothing where it is written, a sentence where it could not be. */
export type FromIntake = { done: true } | { problem: string; ours: boolean }

const TELL_MS = 300

async function read({ databaseUrl, expected }: IntakeWork): Promise<void> {
  const db = openDatabase(databaseUrl, { poolSize: 5 })
  const work = LeasedWork.held(importJobs(db), expected)
  let toldAt = 0
  try {
    const intake = await db.Intake.findByPk(expected.id)
    if (!intake) throw new Problem(409, 'Not wanted', 'It was withdrawn.')
    await computeIntake(db, intake, work, async (step, done, total) => {
      if (Date.now() - toldAt < TELL_MS) return
      toldAt = Date.now()
      await work.beat({ step, done, total })
    })
    await tellParent({ done: true } satisfies FromIntake)
  } catch (error) {
    await tellParent({
      problem: (error as Error).message,
      ours: !(error instanceof Problem),
    } satisfies FromIntake)
  } finally {
    await db.sequelize.close()
  }
}

serveParent(read)
