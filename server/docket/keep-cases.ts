import { createHash } from 'node:crypto'
import type { Transaction } from 'sequelize'
import type { Case } from '../../core/schemas'
import type { Database } from '../database/open'
import type { DocketCaseModel } from '../database/models/docket-case'

/** A finding as a finder gives it; kind, domain, link and subject make its key. */
export interface Finding {
  lane: Case['lane']
  kind: string
  domainId: number | null
  linkId: number | null
  subject: string
  severity: Case['severity']
  headline: string
  sentence: string
  evidence: Case['evidence']
  /** Visits a day affected. */
  impact: number
}

/** The key that stays the same as long as the same thing is wrong with the same subject. */
export const caseKey = (finding: Pick<Finding, 'lane' | 'kind' | 'domainId' | 'linkId' | 'subject'>): string =>
  createHash('sha256')
    .update([finding.lane, finding.kind, finding.domainId ?? '', finding.linkId ?? '', finding.subject].join('\n'))
    .digest('hex')

export interface KeepOptions {
  /** What the finder looked at: cases of these that were not found again settle. */
  lane: Case['lane']
  kinds: readonly string[]
  domainId: number
  /** Whether what a case says could be seen at all this time; one that could not be seen stays. */
  couldSee: (row: DocketCaseModel) => boolean
  now: Date
}

/**
 * Brings the docket in line with what a finder found: new findings become cases, known ones are told anew, those set
 * aside come back after their date, settled ones that are found again reopen, and those not found any more settle by
 * themselves. Whatever finder there is, it goes through here.
 */
export async function keepCases(db: Database, found: readonly Finding[], options: KeepOptions): Promise<void> {
  await db.sequelize.transaction(async (transaction) => {
    const { now } = options
    const there = await db.DocketCase.findAll({
      where: { lane: options.lane, domainId: options.domainId, kind: [...options.kinds] },
      transaction,
      lock: transaction.LOCK.UPDATE,
    })
    const rows = new Map(there.map((row) => [row.caseKey, row]))
    const seen = new Set<string>()
    for (const finding of found) {
      const key = caseKey(finding)
      seen.add(key)
      const told = {
        severity: finding.severity,
        headline: finding.headline.slice(0, 300),
        sentence: finding.sentence,
        evidence: finding.evidence,
        impact: finding.impact,
        seenAt: now,
      }
      const row = rows.get(key)
      if (!row)
        await db.DocketCase.create(
          {
            ...told,
            lane: finding.lane,
            kind: finding.kind,
            caseKey: key,
            domainId: finding.domainId,
            linkId: finding.linkId,
            subject: finding.subject.slice(0, 500),
            openedAt: now,
          },
          { transaction },
        )
      else await row.update({ ...told, ...returns(row, now) }, { transaction })
    }
    for (const row of there)
      if (row.state !== 'settled' && !seen.has(row.caseKey) && options.couldSee(row))
        await settle(row, 'itself', now, transaction)
  })
}

/**
 * What changes in a case found again: settled ones reopen, and those whose time aside is over. One that somebody decided to
 * keep as it is comes back only when what it is about has changed, as its print tells.
 */
export function returns(row: DocketCaseModel, now: Date, print?: string) {
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

export const settle = (row: DocketCaseModel, by: string, now: Date, transaction?: Transaction) =>
  row.update(
    { state: 'settled', settledBy: by, settledAt: now, setAsideUntil: null, version: row.version + 1 },
    { transaction },
  )
