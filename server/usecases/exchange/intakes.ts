import { findFormat } from '../../../core/formats'
import {
  MAX_FILE,
  mayAct,
  type Intake,
  type IntakeOptions,
  type IntakePatch,
  type IntakeQuery,
} from '../../../core/schemas'
import { makeLog } from '../../../environment/log'
import type { Database } from '../../database/open'
import type { IntakeModel } from '../../database/models/intake'
import { startThread } from '../../threads/start-thread'
import type { FromIntake, IntakeWork } from '../../threads/intake-thread'
import { findDomainNamed } from '../domains/find-domain'
import { bornLeased } from '../jobs/born-leased'
import { LeasedWork } from '../jobs/leased-work'
import { Slots } from '../jobs/slots'
import type { Actor } from '../ledger/change'
import { versionConflict, fieldProblem, notFound, Problem } from '../problem'
import { expectedOf, importJobs, type ImportWork } from './import-jobs'
import { toIntakeView, toListedIntake } from './intake-view'
import { filesOf, keepSource } from './sources'

const log = makeLog('admin')

/** Files so short are unpacked while whoever sends them waits. */
const SHORT_OCTETS = 100_000
/** Files that are read at a time in a process. */
const MAX_READING = 2
/** What one thread may hold, in megabytes. */
const MAX_MEGABYTES = 900
const YOUNG_MEGABYTES = 96

const slots = new Slots(
  MAX_READING,
  () => new Problem(429, 'Files are being read', `${MAX_READING} files are being read already; wait for one of them.`),
)

/** What a file becomes whose reading was interrupted. */
const FAILED = { state: 'failed', problem: 'Reading was interrupted; read the file again.', ended: true } as const

/** Takes a file in: it is read and compared in a thread, and nothing of the register is changed. */
export async function makeIntake(
  db: Database,
  databaseUrl: string,
  actor: Actor,
  { name, domain, format, context, base, everyHost }: IntakeQuery,
  octets: Buffer,
): Promise<Intake> {
  if (octets.length > MAX_FILE)
    throw new Problem(413, 'Too large', `A file can be at most ${MAX_FILE / 1_000_000} MB; bring it in by parts.`)
  if (octets.length === 0) throw fieldProblem('file', 'The file is empty.')
  const options: IntakeOptions = {
    domain: (await findDomainNamed(db, domain)).host,
    format,
    context,
    base,
    everyHost: everyHost === '1',
    tags: [],
  }
  refuseUnknownFormat(options)
  const release = slots.take()
  try {
    // What cannot be unpacked is refused now, where that is soon known; the thread reports the rest.
    if (octets.length <= SHORT_OCTETS) filesOf(name, octets)
    // The file and its row together: a killed desk leaves neither without the other.
    const intake = await db.sequelize.transaction(async (transaction) => {
      const row = await db.Intake.create(
        {
          state: 'reading',
          memberId: actor.memberId,
          actor: actor.name.slice(0, 160),
          role: actor.role,
          name,
          options,
          madeAt: new Date(),
          ...bornLeased(db, FAILED),
        },
        { transaction },
      )
      await keepSource(db, row.id, octets, transaction)
      return row
    })
    void read(db, databaseUrl, LeasedWork.held(importJobs(db), expectedOf(intake))).finally(release)
    return toIntakeView(db, intake.id)
  } catch (error) {
    release()
    throw error
  }
}

function refuseUnknownFormat({ format }: IntakeOptions): void {
  if (format !== undefined && !findFormat(format))
    throw fieldProblem('format', `No kind of file is called “${format}”.`)
}

/** What this process reads, by the number of the file. */
const reading = new Map<number, ImportWork>()

/** Has a file read in a thread under its lease; what fails is shown in it. */
async function read(db: Database, databaseUrl: string, work: ImportWork): Promise<void> {
  const { id } = work.expected
  reading.set(id, work)
  try {
    await work.run(() => readInThread(databaseUrl, work))
  } catch (error) {
    // Withdrawn, or given back: what the thread may still write counts no more.
    if (work.signal.aborted && !work.tookTooLong) return
    const problem = work.tookTooLong
      ? 'Reading took longer than 5 minutes and was stopped; import the file in parts.'
      : error instanceof Problem
        ? error.message
        : 'Reading failed because of a fault in Fides; nothing was changed.'
    if (!work.tookTooLong && !(error instanceof Problem)) log.error(error, 'A file could not be read')
    await work
      .finish({ to: 'failed', values: { problem: problem.slice(0, 600), ended_at: new Date() } })
      .catch(() => undefined)
  } finally {
    reading.delete(id)
  }
}

function readInThread(databaseUrl: string, work: ImportWork): Promise<void> {
  return new Promise((resolve, reject) => {
    const thread = startThread('intake-thread', {
      workerData: { databaseUrl, expected: work.expected } satisfies IntakeWork,
      // Reading makes much that lives shortly: with room for it, clearing up costs a fifth of the time less.
      resourceLimits: { maxOldGenerationSizeMb: MAX_MEGABYTES, maxYoungGenerationSizeMb: YOUNG_MEGABYTES },
    })
    work.signal.addEventListener('abort', () => void thread.terminate())
    thread.on('message', (message: FromIntake) => {
      if ('done' in message) resolve()
      else reject(message.ours ? new Error(message.problem) : new Problem(422, 'Not read', message.problem))
    })
    thread.on('error', (error: NodeJS.ErrnoException) =>
      reject(
        error.code === 'ERR_WORKER_OUT_OF_MEMORY'
          ? new Problem(422, 'Too large', 'It needs more memory than reading a file may take; import it in parts.')
          : error,
      ),
    )
    thread.on('exit', () => reject(new Problem(409, 'Stopped', 'Reading was stopped.')))
  })
}

export async function findIntake(db: Database, id: number): Promise<IntakeModel> {
  const intake = await db.Intake.findByPk(id)
  if (!intake) throw notFound('file')
  return intake
}

/** A file as it is, with its progress. One whose process was killed is given back. */
export async function readIntake(db: Database, id: number): Promise<Intake> {
  await importJobs(db).giveBack()
  return toIntakeView(db, id)
}

const MAX_LISTED = 100

/** The files brought in of late, the newest first. */
export async function listIntakes(db: Database): Promise<{ items: Intake[] }> {
  const rows = await db.Intake.findAll({ order: [['id', 'DESC']], limit: MAX_LISTED })
  return { items: rows.map(toListedIntake) }
}

const CLOSED: Record<string, string> = {
  reading: 'is still being read',
  applying: 'is being brought in just now',
  applied: 'has been brought in already; undo it in the ledger',
  withdrawn: 'was let go; bring it in anew',
  failed: 'could not be read',
}

export function refuseClosed(intake: IntakeModel): void {
  if (intake.state !== 'ready') throw new Problem(409, 'Not open', `This file ${CLOSED[intake.state]}.`)
}

/** Changes how a file is read, which reads it anew, which rules are taken in place of their links, and why. */
export async function changeIntake(
  db: Database,
  databaseUrl: string,
  id: number,
  version: number,
  patch: IntakePatch,
): Promise<Intake> {
  const intake = await findIntake(db, id)
  if (!(patch.options && intake.state === 'failed')) refuseClosed(intake)
  if (intake.version !== version) throw versionConflict('this file', await toIntakeView(db, id), patch)
  if (patch.options) {
    refuseUnknownFormat(patch.options)
    const release = slots.take()
    try {
      await findDomainNamed(db, patch.options.domain)
      const work = await LeasedWork.begin(importJobs(db), expectedOf(intake), 'reading', FAILED, {
        options: JSON.stringify(patch.options),
        step: '',
        done: 0,
        total: 0,
        problem: '',
        ended_at: null,
        ...(patch.reason !== undefined && { reason: patch.reason }),
      })
      if (!work) throw versionConflict('this file', await toIntakeView(db, id), patch)
      void read(db, databaseUrl, work).finally(release)
      return toIntakeView(db, id)
    } catch (error) {
      release()
      throw error
    }
  }
  const families = intake.about?.families?.map((family, number) => ({
    ...family,
    taken: patch.families ? patch.families.includes(number) : family.taken,
  }))
  const moved = await importJobs(db).move(expectedOf(intake), {
    to: 'ready',
    values: {
      ...(patch.reason !== undefined && { reason: patch.reason }),
      ...(families && { about: JSON.stringify({ ...intake.about, families }) }),
    },
  })
  if (!moved) throw versionConflict('this file', await toIntakeView(db, id), patch)
  return toIntakeView(db, id)
}

/** Withdraws a file that was not imported, read or still being read; its maker may, and administrators. */
export async function withdrawIntake(db: Database, actor: Actor, id: number): Promise<void> {
  const intake = await findIntake(db, id)
  if (intake.memberId !== actor.memberId && !mayAct(actor.role, 'administrator'))
    throw new Problem(403, 'Not allowed', 'Only the member who sent this file, or an administrator, may discard it.')
  if (intake.state === 'withdrawn') return
  const jobs = importJobs(db)
  // Stopped while it is being applied, it is open again: nothing of it was written.
  if (intake.state === 'applying') {
    await jobs.move(expectedOf(intake), { to: 'ready' })
    return
  }
  if (intake.state !== 'reading' && intake.state !== 'failed') refuseClosed(intake)
  await db.sequelize.transaction(async (transaction) => {
    const moved = await jobs.move(
      expectedOf(intake),
      { to: 'withdrawn', values: { ended_at: new Date() } },
      transaction,
    )
    if (!moved) throw new Problem(409, 'Changed since', 'The file was changed since it was read; load it again.')
    await db.sequelize.query('DELETE FROM intake_source WHERE intake_id = ?', { replacements: [id], transaction })
  })
  // Another process notices at its next heartbeat.
  reading.get(id)?.stop()
}
