import { availableParallelism } from 'node:os'
import type { Worker } from 'node:worker_threads'
import { Op } from 'sequelize'
import { joinReplayed, noneReplayed, type Replayed } from '../../../core/table'
import type { ReplayRequest, ReplayView } from '../../../core/schemas'
import type { RuleRow } from '../../../core/rows'
import { makeLog } from '../../../environment/log'
import type { Database } from '../../database/open'
import type { ReplayModel } from '../../database/models/replay'
import { startThread } from '../../threads/start-thread'
import type { FromReplay, ReplayWork } from '../../threads/replay-thread'
import { findDomainNamed } from '../domains/find-domain'
import type { Actor } from '../ledger/change'
import { fieldProblem, notHere, Problem } from '../problem'
import { checkRule } from '../rules/rule-state'
import { countPastRequests, type Period } from './past-requests'
import type { ReplayTables } from './tables'

const log = makeLog('admin')
const THREADS = Math.max(1, Math.min(2, availableParallelism()))
/** So many run at once in a process; each holds the table twice in each of its threads. */
const MOST_RUNNING = 2
const MOST_MS = 600_000
const TELL_MS = 500
/** Whoever replays tells so often that it lives; longer silence means that it was ended. */
const ABANDONED_MS = 30_000
const DAY_MS = 86_400_000

/** Replays of this process that run, by their number, with what stops them. */
const running = new Map<number, () => void>()

/** Has past requests put to two tables, in threads; the result is asked for by the number. */
export async function askForReplay(
  db: Database,
  databaseUrl: string,
  actor: Actor,
  request: ReplayRequest,
): Promise<ReplayView> {
  if (running.size >= MOST_RUNNING)
    throw new Problem(
      429,
      'Replays are under way',
      `${MOST_RUNNING} replays run already; stop one, or wait for it to end.`,
    )
  const period = periodOf(request)
  const tables = await wishOf(db, request)
  const row = await db.Replay.create({
    memberId: actor.memberId,
    proposalId: request.proposal ?? null,
    request,
    total: await countPastRequests(db, period),
    askedAt: new Date(),
    seenAt: new Date(),
  })
  void run(db, row, { databaseUrl, period, tables })
  return toReplayView(row)
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
    if (!found) throw notHere('proposal')
    if (found.state === 'computing')
      throw new Problem(409, 'Not ready', 'This proposal is still being worked out; replay it when it is ready.')
    return { by: 'proposal', proposal, at: Math.max(Date.now(), found.at?.getTime() ?? 0) }
  }
  if (intake !== undefined) {
    const found = await db.Intake.findByPk(intake, { attributes: ['state'] })
    if (!found) throw notHere('file')
    if (found.state !== 'ready')
      throw new Problem(409, 'Not ready', 'Only a file that is read and not brought in yet can be replayed.')
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

/** Runs a replay over the threads, and writes how far it is and what came of it. */
async function run(db: Database, row: ReplayModel, work: Omit<ReplayWork, 'share'>): Promise<void> {
  const threads: Worker[] = []
  const done = Array<number>(THREADS).fill(0)
  let cancelled = false
  const stop = () => {
    cancelled = true
    for (const thread of threads) void thread.terminate()
  }
  running.set(row.id, stop)
  const overdue = setTimeout(stop, MOST_MS)
  const telling = setInterval(() => {
    const sum = done.reduce((total, one) => total + one, 0)
    void row
      .update({ done: Math.min(sum, row.total), seenAt: new Date() }, { where: { state: 'running' } } as never)
      // Another desk may have been asked to stop it.
      .then(() => db.Replay.findByPk(row.id, { attributes: ['state'] }))
      .then((now) => now?.state === 'cancelled' && stop())
      .catch(() => undefined)
  }, TELL_MS)
  try {
    const parts = await Promise.all(
      done.map(
        (_, nth) =>
          new Promise<Replayed>((resolve, reject) => {
            const thread = startThread('replay-thread', { workerData: { ...work, share: { nth, of: THREADS } } })
            threads.push(thread)
            thread.on('message', (message: FromReplay) => {
              if ('done' in message) done[nth] = message.done
              else if ('result' in message) resolve(message.result)
              else reject(new Error(message.problem))
            })
            thread.on('error', reject)
            thread.on('exit', () => reject(new Error('it was ended')))
          }),
      ),
    )
    await row.update({ state: 'done', done: row.total, result: joinReplayed(parts), endedAt: new Date() })
  } catch (error) {
    if (!cancelled) log.error(error, 'A replay failed')
    const problem = cancelled ? 'It was stopped.' : 'It failed on our side.'
    await db.Replay.update(
      { state: cancelled ? 'cancelled' : 'failed', problem, endedAt: new Date() },
      { where: { id: row.id, state: { [Op.in]: ['running', 'cancelled'] } } },
    ).catch(() => undefined)
  } finally {
    clearTimeout(overdue)
    clearInterval(telling)
    running.delete(row.id)
    for (const thread of threads) void thread.terminate()
  }
}

/** A replay as it stands. One whose process was ended is told to have failed. */
export async function readReplay(db: Database, id: number): Promise<ReplayView> {
  const row = await db.Replay.findByPk(id)
  if (!row) throw notHere('replay')
  if (row.state === 'running' && !running.has(id) && Date.now() - row.seenAt.getTime() > ABANDONED_MS)
    await row.update({ state: 'failed', problem: 'Who worked on it was ended; ask again.', endedAt: new Date() })
  return toReplayView(row)
}

/** Stops a replay. */
export async function cancelReplay(db: Database, id: number): Promise<void> {
  const row = await db.Replay.findByPk(id)
  if (!row) throw notHere('replay')
  if (row.state !== 'running') return
  await row.update({ state: 'cancelled', endedAt: new Date() })
  running.get(id)?.()
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
