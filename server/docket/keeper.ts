import { createHash } from 'node:crypto'
import { literal, QueryTypes, type Transaction } from 'sequelize'
import type { Conflict } from '../../core/conflicts'
import { CASE_KINDS, isRemark, shareHarmed, type CaseKindName } from '../../core/docket'
import type { Case } from '../../core/schemas'
import type { DocketCaseModel } from '../database/models/docket-case'
import type { Database } from '../database/open'

/** A finding as a finder gives it, whatever its lane. */
export interface Finding {
  kind: CaseKindName
  /** Stays the same as long as the same thing is wrong with the same subject; made by `caseKey`. */
  key: string
  /** What it comes of where other cases may come of it too: those are shown as one. */
  cause?: string | null
  domainId: number | null
  linkId: number | null
  /** Links it is about. */
  links: readonly number[]
  subject: string
  severity: Case['severity']
  headline: string
  sentence: string
  evidence: Case['evidence']
  /** Visits a day affected. */
  impact: number
  /** When its harm begins; `null` where it is there already. */
  harmAt: Date | null
  /** What a decision to keep it holds for; it comes back when that changes. */
  print: string | null
  conflict: Conflict | null
}

/** The key of a case; domain and link are part of it only where the subject does not name them already. */
export const caseKey = (of: {
  kind: CaseKindName
  domainId: number | null
  linkId: number | null
  subject: string
}): string =>
  createHash('sha256')
    .update([CASE_KINDS[of.kind].lane, of.kind, of.domainId ?? '', of.linkId ?? '', of.subject].join('\n'))
    .digest('hex')

const MAX_LINKS = 50
const CHUNK = 400

/** What a row takes over from a finding. */
const view = (finding: Finding) => ({
  kind: finding.kind,
  cause: finding.cause ?? null,
  linkId: finding.linkId,
  domainId: finding.domainId,
  subject: finding.subject.slice(0, 500),
  severity: finding.severity,
  headline: finding.headline.slice(0, 300),
  sentence: finding.sentence,
  evidence: finding.evidence,
  impact: finding.impact,
  share: Math.round(shareHarmed(finding) * 1e5) / 1e5,
  harmAt: finding.harmAt,
  irrevocable: CASE_KINDS[finding.kind].irrevocable ?? false,
  remark: isRemark(finding),
  print: finding.print,
  conflict: finding.conflict,
})

const fresh = (finding: Finding, now: Date) => ({
  ...view(finding),
  lane: CASE_KINDS[finding.kind].lane,
  caseKey: finding.key,
  openedAt: now,
  seenAt: now,
})

export interface KeepOptions {
  /** The cases of everything the finder looked at: those it did not find again settle. */
  there: readonly DocketCaseModel[]
  /** Whether what a case says could be seen at all this time; one that could not be seen stays. */
  wasObservable?: (row: DocketCaseModel) => boolean
  now: Date
  transaction?: Transaction
}

/**
 * Brings the docket in line with what a finder found: new findings become cases, known ones are told anew, those set
 * aside come back after their date, settled ones that are found again reopen, and those not found any more settle by
 * themselves. Whatever finder there is, it goes through here.
 */
export async function reconcileCases(
  db: Database,
  found: readonly Finding[],
  { there, wasObservable = () => true, now, transaction }: KeepOptions,
): Promise<void> {
  const rows = new Map(there.map((row) => [row.caseKey, row]))
  const made: Finding[] = []
  const unchanged: number[] = []
  for (const finding of found) {
    const row = rows.get(finding.key)
    rows.delete(finding.key)
    if (!row) {
      made.push(finding)
      continue
    }
    if (!(await updateCase(db, row, finding, now, transaction))) unchanged.push(row.id)
  }
  if (unchanged.length > 0) await db.DocketCase.update({ seenAt: now }, { where: { id: unchanged }, transaction })
  for (let from = 0; from < made.length; from += CHUNK)
    await create(db, made.slice(from, from + CHUNK), now, transaction)
  for (const row of rows.values())
    if (row.state !== 'settled' && wasObservable(row)) await settleUnlessDecided(row, now, transaction)
}

/**
 * Takes a finding over into its case; gives whether anything changed. Where a person decided about the case since it
 * was read, it is looked at again: what they decided stands.
 */
async function updateCase(
  db: Database,
  row: DocketCaseModel,
  finding: Finding,
  now: Date,
  transaction?: Transaction,
): Promise<boolean> {
  for (;;) {
    const back = returns(row, now, finding.print)
    if (Object.keys(back).length === 0 && !differs(row, view(finding))) return false
    const version = row.version + Number(isOther(row, finding))
    const [written] = await db.DocketCase.update(
      { ...view(finding), version, ...back, seenAt: now },
      { where: { id: row.id, version: row.version }, transaction },
    )
    if (written > 0) break
    await row.reload({ transaction })
  }
  await writeLinks(db, [[row, finding]], transaction)
  return true
}

/** Whether a row says something else than what was found now. Figures come from the driver as text. */
const differs = (row: DocketCaseModel, next: ReturnType<typeof view>): boolean =>
  (Object.keys(next) as (keyof typeof next)[]).some((name) => {
    const [was, now] = [row[name], next[name]]
    return typeof now === 'number' ? Number(was) !== now : JSON.stringify(was) !== JSON.stringify(now)
  })

/** Whether a case is about something else than before, so that a remedy shown for it may not fit any more. */
const isOther = (row: DocketCaseModel, finding: Finding): boolean =>
  finding.conflict === null
    ? JSON.stringify(row.evidence) !== JSON.stringify(finding.evidence)
    : row.print !== finding.print || JSON.stringify(row.conflict) !== JSON.stringify(finding.conflict)

async function create(db: Database, found: readonly Finding[], now: Date, transaction?: Transaction): Promise<void> {
  // Another worker may have been quicker with one of them.
  await db.DocketCase.bulkCreate(found.map((finding) => fresh(finding, now)) as never[], {
    ignoreDuplicates: true,
    transaction,
  })
  const rows = await db.DocketCase.findAll({ where: { caseKey: found.map(({ key }) => key) }, transaction })
  const byKey = new Map(rows.map((row) => [row.caseKey, row]))
  await writeLinks(
    db,
    found.flatMap((finding) => (byKey.has(finding.key) ? [[byKey.get(finding.key)!, finding] as const] : [])),
    transaction,
  )
}

/** The links a case names; of very many the first. */
export async function linksOfCase(db: Database, id: number): Promise<number[]> {
  const rows = await db.sequelize.query<{ link_id: number }>(
    'SELECT link_id FROM docket_case_link WHERE case_id = ? ORDER BY link_id',
    { replacements: [id], type: QueryTypes.SELECT },
  )
  return rows.map((row) => Number(row.link_id))
}

async function writeLinks(
  db: Database,
  cases: readonly (readonly [DocketCaseModel, Finding])[],
  transaction?: Transaction,
): Promise<void> {
  if (cases.length === 0) return
  await db.sequelize.query('DELETE FROM docket_case_link WHERE case_id IN (?)', {
    replacements: [cases.map(([row]) => row.id)],
    transaction,
  })
  const pairs = cases.flatMap(([row, { links }]) => [...new Set(links)].slice(0, MAX_LINKS).map((id) => [row.id, id]))
  if (pairs.length > 0)
    await db.sequelize.query('INSERT IGNORE INTO docket_case_link (case_id, link_id) VALUES ?', {
      replacements: [pairs],
      transaction,
    })
}

/**
 * What changes in a case found again: settled ones reopen, and those whose time aside is over. One that somebody
 * decided to keep as it is comes back only when what it is about has changed, as its print tells.
 */
function returns(row: DocketCaseModel, now: Date, print: string | null) {
  const over = row.state === 'set-aside' && row.setAsideUntil !== null && row.setAsideUntil <= now
  if (row.state !== 'settled' && !over) return {}
  if (row.state === 'settled' && row.keptPrint && row.keptPrint === print) return {}
  return {
    state: 'open' as const,
    keptPrint: null,
    setAsideUntil: null,
    settledBy: null,
    settledAt: null,
    reopenedAt: now,
    version: row.version + 1,
  }
}

/**
 * Settles a case by itself, as nothing is wrong any more. Where a person decided about it since it was read, their
 * decision is not overwritten; the next run sees it.
 */
async function settleUnlessDecided(row: DocketCaseModel, now: Date, transaction?: Transaction): Promise<void> {
  await (row.constructor as typeof DocketCaseModel).update(
    {
      state: 'settled',
      settledBy: 'itself',
      settledAt: now,
      setAsideUntil: null,
      version: row.version + 1,
    },
    { where: { id: row.id, version: row.version }, transaction },
  )
}

/** Settles a case in the name of who decided, whose transaction holds its row. */
export const settle = (row: DocketCaseModel, by: string, now: Date, transaction?: Transaction) =>
  row.update(
    {
      state: 'settled',
      settledBy: by.slice(0, 160),
      settledAt: now,
      setAsideUntil: null,
      version: literal('version + 1'),
    },
    { transaction },
  )

/**
 * Notes findings that somebody decided to keep, with the reason: settled cases that come back when what they are about
 * changes.
 */
export async function keepAsDecided(
  db: Database,
  found: readonly Finding[],
  { by, reason, now, transaction }: { by: string; reason: string; now: Date; transaction: Transaction },
): Promise<void> {
  for (const finding of found) {
    const row = await db.DocketCase.findOne({
      where: { caseKey: finding.key },
      transaction,
      lock: transaction.LOCK.UPDATE,
    })
    const decided = {
      state: 'settled' as const,
      settledBy: by.slice(0, 160),
      settledAt: now,
      setAsideUntil: null,
      reason,
      keptPrint: finding.print,
      seenAt: now,
    }
    if (row) await row.update({ ...view(finding), ...decided, version: row.version + 1 }, { transaction })
    else {
      await create(db, [finding], now, transaction)
      await db.DocketCase.update(decided, { where: { caseKey: finding.key }, transaction })
    }
  }
}
