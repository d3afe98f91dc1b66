import type { Worker } from 'node:worker_threads'
import { Op } from 'sequelize'
import { findFormat } from '../../../core/formats'
import {
  MOST_FILE,
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
import type { Actor } from '../ledger/change'
import { changedMeanwhile, fieldProblem, notHere, Problem } from '../problem'
import { toIntakeView, toListedIntake } from './intake-view'
import { filesOf, keepSource } from './sources'

const log = makeLog('admin')

/** Files so short are unpacked while whoever sends them waits. */
const SHORT_OCTETS = 100_000
/** So many files are read at once in a process. */
const MOST_READING = 2
/** A reading nobody works on any more: whoever did was ended. */
const ABANDONED_MS = 60_000
const MOST_MS = 300_000
/** What one thread may hold, in megabytes. */
const MOST_MEGABYTES = 900
const YOUNG_MEGABYTES = 96

const reading = new Map<number, Worker>()

/** Takes a file in: it is read and compared in a thread, and nothing of the register is changed. */
export async function makeIntake(
  db: Database,
  databaseUrl: string,
  actor: Actor,
  { name, domain, format, context, base, everyHost }: IntakeQuery,
  octets: Buffer,
): Promise<Intake> {
  if (octets.length > MOST_FILE)
    throw new Problem(413, 'Too large', `A file can be at most ${MOST_FILE / 1_000_000} MB; bring it in by parts.`)
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
  refuseMany()
  // What cannot be unpacked is refused at once, where that is soon told; the thread tells it of the rest.
  if (octets.length <= SHORT_OCTETS) filesOf(name, octets)
  const now = new Date()
  const intake = await db.Intake.create({
    state: 'reading',
    memberId: actor.memberId,
    actor: actor.name.slice(0, 160),
    role: actor.role,
    name,
    options,
    madeAt: now,
    seenAt: now,
  })
  await keepSource(db, intake.id, octets)
  read(db, databaseUrl, intake.id)
  return toIntakeView(db, intake.id)
}

function refuseUnknownFormat({ format }: IntakeOptions): void {
  if (format !== undefined && !findFormat(format))
    throw fieldProblem('format', `No kind of file is called “${format}”.`)
}

function refuseMany(): void {
  if (reading.size >= MOST_READING)
    throw new Problem(
      429,
      'Files are being read',
      `${MOST_READING} files are being read already; wait for one of them.`,
    )
}

/** Has an intake read in a thread; what fails is told in it. */
function read(db: Database, databaseUrl: string, id: number): void {
  const thread = startThread('intake-thread', {
    workerData: { databaseUrl, intake: id } satisfies IntakeWork,
    // Reading makes much that lives shortly: with room for it, clearing up costs a fifth of the time less.
    resourceLimits: { maxOldGenerationSizeMb: MOST_MEGABYTES, maxYoungGenerationSizeMb: YOUNG_MEGABYTES },
  })
  reading.set(id, thread)
  const fail = (problem: string) =>
    db.Intake.update(
      { state: 'failed', problem: problem.slice(0, 600), endedAt: new Date() },
      { where: { id, state: 'reading' } },
    ).catch(() => undefined)
  const overdue = setTimeout(() => {
    void fail(`Reading it took longer than ${MOST_MS / 60_000} minutes and was given up; bring it in by parts.`)
    void thread.terminate()
  }, MOST_MS)
  let told = false
  thread.on('message', (message: FromIntake) => {
    told = true
    if ('done' in message) return
    if (message.ours) log.error(new Error(message.problem), 'A file could not be read')
    void fail(message.ours ? 'It could not be read, by a fault of ours; nothing was changed.' : message.problem)
  })
  thread.on('error', (error: NodeJS.ErrnoException) => {
    told = true
    const much = error.code === 'ERR_WORKER_OUT_OF_MEMORY'
    if (!much) log.error(error, 'A file could not be read')
    void fail(
      much
        ? 'It needs more memory than reading a file may take; bring it in by parts.'
        : 'It could not be read, by a fault of ours; nothing was changed.',
    )
  })
  thread.on('exit', () => {
    clearTimeout(overdue)
    reading.delete(id)
    if (!told) void fail('Reading it was stopped.')
  })
}

export async function findIntake(db: Database, id: number): Promise<IntakeModel> {
  const intake = await db.Intake.findByPk(id)
  if (!intake) throw notHere('file')
  return intake
}

/**
 * An intake as it stands, with how far it is. One whose reader was ended is told to have failed; one whose making was
 * cut short is open again, as nothing of it was written.
 */
export async function readIntake(db: Database, id: number): Promise<Intake> {
  await db.Intake.update(
    { state: 'failed', problem: 'Reading it was stopped; read it again.', endedAt: new Date() },
    { where: { id, state: 'reading', seenAt: { [Op.lt]: new Date(Date.now() - ABANDONED_MS) } } },
  )
  await db.Intake.update(
    { state: 'ready' },
    { where: { id, state: 'applying', seenAt: { [Op.lt]: new Date(Date.now() - ABANDONED_MS) } } },
  )
  return toIntakeView(db, id)
}

const MOST_LISTED = 100

/** The files brought in of late, the newest first. */
export async function listIntakes(db: Database): Promise<{ items: Intake[] }> {
  const rows = await db.Intake.findAll({ order: [['id', 'DESC']], limit: MOST_LISTED })
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
  if (intake.version !== version) throw changedMeanwhile('this file', await toIntakeView(db, id), patch)
  if (patch.options) {
    refuseUnknownFormat(patch.options)
    await findDomainNamed(db, patch.options.domain)
    refuseMany()
    const [mine] = await db.Intake.update(
      {
        state: 'reading',
        options: patch.options,
        step: '',
        done: 0,
        total: 0,
        problem: '',
        endedAt: null,
        seenAt: new Date(),
        version: version + 1,
        ...(patch.reason !== undefined && { reason: patch.reason }),
      },
      { where: { id, state: intake.state, version } },
    )
    if (mine > 0) read(db, databaseUrl, id)
    return toIntakeView(db, id)
  }
  const families = intake.about?.families?.map((family, number) => ({
    ...family,
    taken: patch.families ? patch.families.includes(number) : family.taken,
  }))
  const [mine] = await db.Intake.update(
    {
      ...(patch.reason !== undefined && { reason: patch.reason }),
      ...(families && { about: { ...intake.about, families } }),
      version: version + 1,
    },
    { where: { id, state: 'ready', version } },
  )
  if (mine === 0) throw changedMeanwhile('this file', await toIntakeView(db, id), patch)
  return toIntakeView(db, id)
}

/** Lets a file go that was not brought in, read or still being read; its maker may, and administrators. */
export async function withdrawIntake(db: Database, actor: Actor, id: number): Promise<void> {
  const intake = await findIntake(db, id)
  if (intake.memberId !== actor.memberId && !mayAct(actor.role, 'administrator'))
    throw new Problem(403, 'Not allowed', 'Only who brought this file, or an administrator, may let it go.')
  if (intake.state === 'withdrawn') return
  // Stopped while it is brought in, it is open again: nothing of it was written.
  if (intake.state === 'applying') {
    await db.Intake.update({ state: 'ready' }, { where: { id, state: 'applying' } })
    return
  }
  if (intake.state !== 'reading' && intake.state !== 'failed') refuseClosed(intake)
  const [mine] = await db.Intake.update(
    { state: 'withdrawn', endedAt: new Date(), version: intake.version! + 1 },
    { where: { id, state: intake.state } },
  )
  if (mine === 0) throw new Problem(409, 'Changed meanwhile', 'The file stands otherwise by now; look again.')
  void reading.get(id)?.terminate()
  await db.sequelize.query('DELETE FROM intake_source WHERE intake_id = ?', { replacements: [id] })
}
