import { literal, QueryTypes, type Transaction } from 'sequelize'
import {
  advance,
  isFailure,
  judge,
  TARGET_RANKS,
  type Evidence,
  type Judged,
  type Standing,
} from '../../../core/targets'
import { answersHead, checkDestination } from '../../targets/check'
import type { TargetModel } from '../../database/models/target'
import type { Database } from '../../database/open'
import { patienceOf } from './check-settings'
import type { Checks } from './check-context'
import { interestIn, nextDue, type Interest } from './link-targets'

export interface CheckTargetOptions {
  /** Asked before a failure is written that could be our own: whether others answer. */
  online?: (evidence: Evidence) => Promise<boolean>
}

/**
 * Checks one claimed target, writes what was seen and how it stands now, once, and gives it as it is then. `undefined`,
 * and nothing written, where nobody is interested any more, where we ourselves are offline, or where the lease was lost
 * meanwhile.
 */
export async function checkTarget(
  db: Database,
  { asker, settings }: Checks,
  target: TargetModel,
  { online }: CheckTargetOptions = {},
): Promise<TargetModel | undefined> {
  const interest = await interestIn(db, target.hash)
  // A proposal wants to know of a destination before anything leads there.
  const wanted = target.wantedUntil != null && target.wantedUntil.getTime() > Date.now()
  if (interest.links.length === 0 && !wanted) {
    await rest(db, target)
    return undefined
  }
  const { evidence, waitMs } = await checkDestination(asker, target.destination, {
    previous: target.evidence,
    head: target.headWorks === true,
  })
  const judged = judge(evidence)
  const headWorks = await learnHead(asker, target, evidence, judged)
  if (isFailure(judged.verdict) && online && !(await online(evidence))) return undefined
  return storeCheck(db, settings, target, { evidence, judged, headWorks, interest, waitMs })
}

/** What was seen of a target, to be stored as one check. */
export interface Seen {
  evidence: Evidence
  judged: Judged
  headWorks: boolean | null
  interest: Interest
  /** How long the host asked to be left alone. */
  waitMs: number | undefined
}

/** Stores one check of a target, unless another process took it on since it was read. */
export async function storeCheck(
  db: Database,
  settings: Checks['settings'],
  target: TargetModel,
  { evidence, judged, headWorks, interest, waitMs }: Seen,
): Promise<TargetModel | undefined> {
  const standing = advance(target.standing, judged, evidence.at, patienceOf(settings))
  const written = await writeCheck(db, target, {
    evidence,
    judged,
    standing,
    headWorks,
    dueAt: nextDue(interest, standing, waitMs),
  })
  if (!written) return undefined
  await db.sequelize.query(
    'UPDATE link SET target_rank = :rank WHERE destination_hash = :hash AND target_rank <> :rank',
    { replacements: { rank: TARGET_RANKS[standing.confidence], hash: target.hash }, type: QueryTypes.UPDATE },
  )
  return (await db.Target.findByPk(target.id)) ?? undefined
}

/** Nobody’s destination is not asked; it is looked at again in a week, in case somebody’s it becomes. */
async function rest(db: Database, target: TargetModel): Promise<void> {
  await db.Target.update(
    {
      leasedUntil: null,
      leasedBy: null,
      urgent: false,
      dueAt: literal('DATE_ADD(UTC_TIMESTAMP(3), INTERVAL 7 DAY)') as never,
    },
    { where: { id: target.id, leasedBy: target.leasedBy } },
  )
  await endRuns(db, target.id, new Date())
}

/** What is no page is asked with HEAD from then on, where that was seen to be answered alike. */
async function learnHead(
  asker: Checks['asker'],
  target: TargetModel,
  evidence: Evidence,
  { verdict }: Judged,
): Promise<boolean | null> {
  const isPage = /html|^$/.test(evidence.page?.type ?? '')
  if (target.headWorks !== null || isFailure(verdict) || isPage) return target.headWorks
  return answersHead(asker, evidence).catch(() => null)
}

interface Written {
  headWorks: boolean | null
  evidence: Evidence
  judged: Judged
  standing: Standing
  dueAt: Date
}

const DAY_MS = 86_400_000

/**
 * Whether other places are to be looked for: while it begins to fail, once a day as long as it does, and when it moved
 * for good.
 */
function wantsRemedies(target: TargetModel, standing: Standing): boolean {
  if (standing.failures === 0) return standing.verdict === 'moved-permanently' && target.verdict !== standing.verdict
  const old = !target.remediesAt || Date.now() - target.remediesAt.getTime() > DAY_MS
  return old || target.verdict !== standing.verdict
}

const took = (evidence: Evidence) => evidence.hops.reduce((sum, hop) => sum + hop.milliseconds, 0)

async function writeCheck(
  db: Database,
  target: TargetModel,
  { evidence, judged, standing, headWorks, dueAt }: Written,
): Promise<boolean> {
  const last = evidence.hops.at(-1)!
  const arrived = !isFailure(judged.verdict)
  return db.sequelize.transaction(async (transaction) => {
    const [count] = await db.Target.update(
      {
        verdict: standing.verdict,
        confidence: standing.confidence,
        sentence: standing.sentence,
        since: new Date(standing.since),
        standing,
        final: judged.final,
        // A title and a card are kept from when the page was last there: they tell what to look for.
        ...(arrived &&
          evidence.page && {
            title: evidence.page.title || target.title,
            card: evidence.page.card,
            frames: last.fields && {
              frameOptions: last.fields.frameOptions,
              frameAncestors: last.fields.frameAncestors,
            },
          }),
        evidence,
        checkedAt: new Date(evidence.at),
        headWorks,
        checks: literal('checks + 1') as never,
        urgent: false,
        dueAt,
        leasedUntil: null,
        leasedBy: null,
        ...(wantsRemedies(target, standing) && { remediesDue: true, remediesAt: null }),
      },
      { where: { id: target.id, leasedBy: target.leasedBy }, transaction },
    )
    if (count === 0) return false
    await db.TargetCheck.create(
      {
        targetId: target.id,
        at: new Date(evidence.at),
        verdict: judged.verdict,
        failed: isFailure(judged.verdict),
        milliseconds: took(evidence),
        evidence,
      },
      { transaction },
    )
    const stillWanted = await endRuns(db, target.id, new Date(evidence.at), transaction)
    if (stillWanted)
      await db.Target.update(
        { urgent: true, dueAt: literal('UTC_TIMESTAMP(3)') as never },
        { where: { id: target.id }, transaction },
      )
    return true
  })
}

/**
 * Notes in the runs that wait for a target that it has been checked; a run whose last one it was is done. A check that
 * had begun before a run was asked for does not count for it: gives whether such runs still wait for the target.
 */
async function endRuns(db: Database, targetId: number, began: Date, transaction?: Transaction): Promise<boolean> {
  // Reads what is committed now: a run whose mark on the target this check overwrote must be seen.
  const waiting = await db.sequelize.query<{ run_id: number; later: number }>(
    `SELECT x.run_id, r.asked_at > ? AS later FROM check_run_target x JOIN check_run r ON r.id = x.run_id
     WHERE x.target_id = ? AND NOT x.done AND r.state = 'running'${transaction ? ' LOCK IN SHARE MODE' : ''}`,
    { replacements: [began, targetId], type: QueryTypes.SELECT, transaction },
  )
  const runs = waiting.filter(({ later }) => !Number(later)).map(({ run_id }) => run_id)
  const stillWanted = runs.length < waiting.length
  if (runs.length === 0) return stillWanted
  await db.sequelize.query('UPDATE check_run_target SET done = TRUE WHERE target_id = ? AND run_id IN (?)', {
    replacements: [targetId, runs],
    transaction,
  })
  await db.sequelize.query(
    `UPDATE check_run r SET r.state = 'done', r.version = r.version + 1, r.ended_at = UTC_TIMESTAMP(3)
     WHERE r.id IN (?) AND r.state = 'running'
       AND NOT EXISTS (SELECT 1 FROM check_run_target t WHERE t.run_id = r.id AND NOT t.done)`,
    { replacements: [runs], transaction },
  )
  return stillWanted
}
