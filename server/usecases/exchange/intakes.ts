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
import { startChild, whenEnded } from '../../threads/start-child'
import type { FromIntake, IntakeWork } from '../../threads/import-process'
import { findDomainNamed } from '../domains/find-domain'
import { bornLeased } from '../jobs/born-leased'
import { LeasedWork } from '../jobs/leased-work'
import { afterTheRequest } from '../../threads/asker'
import { FairTurns } from '../../threads/fair-turns'
import type { Actor } from '../ledger/change'
import { versionConflict, fieldProblem, notFound, Problem } from '../problem'
import { expectedOf, importJobs, type ImportWork } from './import-jobs'
import { toIntakeView, toListedIntake } from './intake-view'
import { filesOf, keepSource, packSource, refuseFullShare } from './sources'

const log = makeLog('admin')

/** Files so short are unpacked while whoever sends them waits. */
const SHORT_OCTETS = 100_000
/** Files that are read at a time in a process. */
const MAX_READING = 2
/** Reading makes much that lives shortly: with room for it, clearing up costs a fifth of the time less. */
const MEMORY = { heap: 600, nursery: 32 }

/** Files read at a time, one of each member; others wait, which costs nothing: they lie in the database. */
const turns = new FairTurns({ atOnce: MAX_READING, waiting: 60, waitingPerAsker: 20, what: 'imports' })

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
    throw new Problem(
      413,
      'Too large',
      `The file is too large: the maximum is ${MAX_FILE / 1_000_000} MB. Import it in parts.`,
    )
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
  // What cannot be unpacked is refused now, where that is soon known; the thread reports the rest.
  if (octets.length <= SHORT_OCTETS) filesOf(name, octets)
  const packed = await packSource(octets)
  await refuseFullShare(db, actor.memberId, packed.length)
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
    await keepSource(db, row.id, packed, transaction)
    return row
  })
  void read(db, databaseUrl, LeasedWork.held(importJobs(db), expectedOf(intake)))
  return toIntakeView(db, intake.id)
}

function refuseUnknownFormat({ format }: IntakeOptions): void {
  if (format !== undefined && !findFormat(format))
    throw fieldProblem('format', `No kind of file is called “${format}”.`)
}

/** What this process reads, by the number of the file. */
const reading = new Map<number, ImportWork>()

/** Has a file read in a process under its lease; what fails is shown in it. */
async function read(db: Database, databaseUrl: string, work: ImportWork): Promise<void> {
  const { id } = work.expected
  reading.set(id, work)
  try {
    await work.run(() => afterTheRequest(() => turns.run(() => readInChild(databaseUrl, work))))
  } catch (error) {
    // Withdrawn, or given back: what it may still write counts no more.
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

/** Reads a file in a process of its own: what that takes of memory is back when it ends. */
async function readInChild(databaseUrl: string, work: ImportWork): Promise<void> {
  // It may have been withdrawn while it waited for its turn.
  work.check()
  return new Promise((resolve, reject) => {
    const child = startChild('import-process', MEMORY, { databaseUrl, expected: work.expected } satisfies IntakeWork)
    const stop = () => void child.kill('SIGKILL')
    work.signal.addEventListener('abort', stop)
    child.on('message', (message: FromIntake) => {
      if ('done' in message) resolve()
      else reject(message.ours ? new Error(message.problem) : new Problem(422, 'Not read', message.problem))
    })
    child.on('error', reject)
    whenEnded(child, ({ isFull }) => {
      work.signal.removeEventListener('abort', stop)
      reject(
        isFull
          ? new Problem(422, 'Too large', 'It needs more memory than reading a file may take; import it in parts.')
          : new Problem(409, 'Stopped', 'Reading was stopped.'),
      )
    })
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
  applying: 'is being imported',
  applied: 'has been imported already; undo it in the ledger',
  withdrawn: 'was discarded; upload it again',
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
    void read(db, databaseUrl, work)
    return toIntakeView(db, id)
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
