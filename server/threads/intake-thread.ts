import { parentPort, workerData } from 'node:worker_threads'
import { openDatabase } from '../database/open'
import { computeIntake } from '../usecases/exchange/compute-intake'
import { Problem } from '../usecases/problem'

/** What a reading thread is told when it starts. */
export interface IntakeWork {
  databaseUrl: string
  intake: number
}

/** What came of it: nothing where it is written, a sentence where it could not be. */
export type FromIntake = { done: true } | { problem: string; ours: boolean }

const TELL_MS = 300

async function work({ databaseUrl, intake: id }: IntakeWork): Promise<void> {
  const db = openDatabase(databaseUrl, { poolSize: 5 })
  let told = 0
  try {
    const intake = await db.Intake.findByPk(id)
    if (!intake || intake.state !== 'reading') throw new Problem(409, 'Not wanted', 'It was withdrawn.')
    await computeIntake(db, intake, async (step, done, total) => {
      if (Date.now() - told < TELL_MS) return
      told = Date.now()
      const [mine] = await db.Intake.update(
        { step, done, total, seenAt: new Date() },
        { where: { id, state: 'reading' } },
      )
      if (mine === 0) throw new Problem(409, 'Not wanted', 'It was withdrawn.')
    })
    parentPort!.postMessage({ done: true } satisfies FromIntake)
  } catch (error) {
    parentPort!.postMessage({
      problem: (error as Error).message,
      ours: !(error instanceof Problem),
    } satisfies FromIntake)
  } finally {
    await db.sequelize.close()
  }
}

void work(workerData as IntakeWork)
