import { availableParallelism } from 'node:os'
import type { Worker } from 'node:worker_threads'
import { Op } from 'sequelize'
import { REPLAY_JOB } from '../../../core/jobs'
import { joinReplayed, noneReplayed, type Replayed } from '../../../core/table'
import type { ReplayRequest, ReplayView } from '../../../core/schemas'
import type { RuleRow } from '../../../core/rows'
import { makeLog } from '../../../environment/log'
import type { Database } from '../../database/open'
import type { ReplayModel } from '../../database/models/replay'
import { startThread } from '../../threads/start-thread'
import type { FromReplay, ReplayWork } from '../../threads/replay-thread'
import { findDomainNamed } from '../domains/find-domain'
import { bornLeased } from '../jobs/born-leased'
import { jobTable } from '../jobs/job-table'
import { LeasedWork } from '../jobs/leased-work'
import { Slots } from '../jobs/slots'
import type { Actor } from '../ledger/change'
import { fieldProblem, notFound, Problem } from '../problem'
import { checkRule } from '../rules/rule-state'
import { countPastRequests, type Period } from './past-requests'
import type { ReplayTables } from './tables'

const log = makeLog('admin')
const THREADS = Math.max(1, Math.min(2, availableParallelism()))
/** Replays that run at a time in a process; each holds the table twice in each of its threads. */
const MAX_RUNNING = 3
/** Of them one member’s. */
const MAX_RUNNING_EACH = 1
const TELL_MS = 500
const DAY_MS = 86_400_000

const slots = new Slots(
  MAX_RUNNING,
  MAX_RUNNING_EACH,
  () =>
    new Problem(
      429,
      'Replays are under way',
      `Each member can run ${MAX_RUNNING_EACH} replay at a time, all together ${MAX_RUNNING}; cancel yours, or wait.`,
    ),
)

/** Has past requests put to two tables, in threads; the result is asked for by the number. */
export async function askForReplay(
  db: Database,
  databaseUrl: string,
  actor: Actor,
  request: ReplayRequest,
): Promise<ReplayView> {
  const release = slots.take()
  try {
    const period = periodOf(request)
    const tables = await wishOf(db, request)
    const row = await db.Replay.create({
      memberId: actor.memberId,
      proposalId: request.proposal ?? null,
      request,
      total: await countPastRequests(db, period),
      askedAt: new Date(),
      ...bornLeased(db, { state: 'failed', problem: 'The replay was interrupted; start it again.', ended: true }),
    })
    void run(db, row, { databaseUrl, period, tables }).finally(release)
    return toReplayView(row)
  } catch (error) {
    release()
    throw error
  }
}

function periodOf({ from, to, days }: Pick<ReplayRequest, 'from' | 'to' | 'days'>): Period {
  const until = to === undefined ? new Date() : new Date(to)
  const since = from === undefined ? new Date(until.getTime() - days * DAY_MS) : new Date(from)
  if (since >= until) throw fieldProblem('from', 'The begin must lie before the end.')
  return { from: since, to: until }
}

async function wishOf(db: Database, { proposal, intake, rules, slugs, moments }: ReplayRequest): Promise<ReplayTables> {
  if (proposal !== undefined) {
    const found = await db.Proposal.findByPk(proposal)
    if (!found) throw notFound('proposal')
    if (found.state === 'computing')
      throw new Problem(409, 'Not ready', 'This proposal is still being calculated. Replay it when it is ready.')
    return { by: 'proposal', proposal, at: Math.max(Date.now(), found.at?.getTime() ?? 0) }
  }
  if (intake !== undefined) {
    const found = await db.Intake.findByPk(intake, { attributes: ['state'] })
    if (!found) throw notFound('file')
    if (found.state !== 'ready')
      throw new Problem(409, 'Not ready', 'Only a file that has been read and not yet imported can be replayed.')
    return { by: 'intake', intake }
  }
  if (moments !== undefined) {
    const [before, after] = [Date.parse(moments.before), moments.after === null ? null : Date.parse(moments.after)]
    if (Math.max(before, after ?? 0) > Date.now()) throw fieldProblem('moments', 'Both moments must lie in the past.')
    return { by: 'moments', before, after }
  }
  if (slugs !== undefined) {
    const { domain: host, ...reading } = slugs
    return { by: 'slugs', domainId: (await findDomainNamed(db, host)).id, ...reading }
  }
  const domain = await findDomainNamed(db, rules!.domain)
  for (const rule of rules!.items) checkRule({ ...rule, status: rule.status ?? domain.defaultStatus }, domain)
  const drafts: RuleRow[] = rules!.items
    .filter(({ active }) => active)
    .map(({ active: _active, title: _title, note: _note, ...rule }, index) => ({
      ...rule,
      id: index + 1,
      domainId: domain.id,
      position: index + 1,
      status: rule.status ?? domain.defaultStatus,
    }))
  return { by: 'rules', domainId: domain.id, rules: drafts }
}

/** What this process replays, by its number. */
const running = new Map<number, LeasedWork<ReplayView['state']>>()

/** Runs a replay over the threads under its lease, and writes how far it is and its result. */
async function run(db: Database, row: ReplayModel, work: Omit<ReplayWork, 'share'>): Promise<void> {
  const jobs = jobTable(db, REPLAY_JOB)
  const lease = LeasedWork.held(jobs, { id: row.id, state: 'running', version: row.version! })
  running.set(row.id, lease)
  const threads: Worker[] = []
  const done = Array<number>(THREADS).fill(0)
  const stop = () => {
    for (const thread of threads) void thread.terminate()
  }
  lease.signal.addEventListener('abort', stop)
  const telling = setInterval(() => {
    const sum = done.reduce((total, one) => total + one, 0)
    // Another desk may have cancelled it: the lease is lost then.
    void lease.beat({ done: Math.min(sum, row.total) }).catch(() => undefined)
  }, TELL_MS)
  try {
    const result = await lease.run(async () => joinReplayed(await Promise.all(done.map((_, nth) => runShare(nth)))))
    await lease.finish({
      to: 'done',
      values: { done: row.total, result: JSON.stringify(result), ended_at: new Date() },
    })
  } catch (error) {
    if (lease.signal.aborted && !lease.tookTooLong) return
    if (!lease.tookTooLong) log.error(error, 'A replay failed')
    const problem = lease.tookTooLong
      ? 'The replay took too long and was stopped; choose fewer days.'
      : 'The replay failed because of a fault in Fides.'
    await lease.finish({ to: 'failed', values: { problem, ended_at: new Date() } }).catch(() => undefined)
  } finally {
    clearInterval(telling)
    running.delete(row.id)
    stop()
  }

  function runShare(nth: number): Promise<Replayed> {
    return new Promise((resolve, reject) => {
      const thread = startThread('replay-thread', { workerData: { ...work, share: { nth, of: THREADS } } })
      threads.push(thread)
      thread.on('message', (message: FromReplay) => {
        if ('done' in message) done[nth] = message.done
        else if ('result' in message) resolve(message.result)
        else reject(new Error(message.problem))
      })
      thread.on('error', reject)
      thread.on('exit', () => reject(new Error('it was ended')))
    })
  }
}

/** A replay as it is. One whose process was killed is given back. */
export async function readReplay(db: Database, id: number): Promise<ReplayView> {
  await jobTable(db, REPLAY_JOB).giveBack()
  const row = await db.Replay.findByPk(id)
  if (!row) throw notFound('replay')
  return toReplayView(row)
}

/** Cancels a replay; in another process its threads end at their next heartbeat. */
export async function cancelReplay(db: Database, id: number): Promise<void> {
  const row = await db.Replay.findByPk(id)
  if (!row) throw notFound('replay')
  if (row.state !== 'running') return
  await jobTable(db, REPLAY_JOB).move(
    { id, state: 'running', version: row.version! },
    { to: 'cancelled', values: { problem: 'It was cancelled.', ended_at: new Date() } },
  )
  running.get(id)?.stop()
}

function toReplayView(row: ReplayModel): ReplayView {
  const { from, to } = periodOf({ ...row.request, to: row.request.to ?? row.askedAt.toISOString() })
  const { requests, counts, examples } = row.result ?? noneReplayed()
  return {
    id: row.id,
    state: row.state ?? 'running',
    total: row.total ?? 0,
    done: row.done ?? 0,
    from: from.toISOString(),
    to: to.toISOString(),
    days: Math.round(((to.getTime() - from.getTime()) / DAY_MS) * 10) / 10,
    requests,
    counts,
    examples,
    problem: row.problem ?? '',
    askedAt: row.askedAt.toISOString(),
    endedAt: row.endedAt?.toISOString() ?? null,
  }
}

/** Replays are kept so long. */
const KEPT_DAYS = 30

export const forgetReplays = (db: Database): Promise<unknown> =>
  db.Replay.destroy({ where: { askedAt: { [Op.lt]: new Date(Date.now() - KEPT_DAYS * DAY_MS) } } })
