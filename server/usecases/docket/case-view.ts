import { reckoning, urgencyOf } from '../../../core/docket'
import type { Case } from '../../../core/schemas'
import type { DocketCaseModel } from '../../database/models/docket-case'
import type { Database } from '../../database/open'
import { laneOf } from '../../docket/lanes'
import type { Change } from '../ledger/change'
import { notFound } from '../problem'

/** Of all cases of one cause and state: how many, and the visits a day they affect. */
export interface CauseFigures {
  cases: number
  impact: number
}

const iso = (date: Date | null) => date?.toISOString() ?? null
const MAX_LINKS = 50

const visitsInWords = (visits: number) => {
  const shown = visits >= 10 || visits === 0 ? Math.round(visits).toLocaleString('en') : visits.toFixed(1)
  return `${shown} ${shown === '1.0' ? 'visit' : 'visits'}`
}

/** What a case is called by. */
export const nameOfCase = (row: DocketCaseModel, host: string | undefined): string => laneOf(row).name(row, host)

/** A case as the API shows it at a moment, for all cases of its cause. */
export function toCaseView(
  row: DocketCaseModel,
  host: string | undefined,
  now = Date.now(),
  { cases, impact }: CauseFigures = { cases: 1, impact: Number(row.impact) },
): Case {
  const lane = laneOf(row)
  const facts = {
    impact,
    share: Number(row.share),
    harmAt: row.harmAt?.getTime() ?? null,
    irrevocable: Boolean(row.irrevocable),
  }
  return {
    id: row.id,
    lane: row.lane,
    kind: row.kind,
    name: lane.name(row, host),
    subject: row.subject,
    domain: row.domainId === null || host === undefined ? null : { id: row.domainId, host },
    severity: row.severity,
    headline: row.headline,
    sentence: row.sentence,
    evidence: row.evidence,
    impact,
    together: cases,
    others: [],
    affected: lane.affected(visitsInWords(impact), host),
    urgency: Math.round(urgencyOf(facts, now) * 100) / 100,
    reckoning: reckoning(facts, now),
    remark: Boolean(row.remark),
    state: row.state,
    setAsideUntil: iso(row.setAsideUntil),
    reason: row.reason,
    settledBy: row.settledBy,
    kept: row.state === 'settled' && Boolean(row.keptPrint),
    links: row.conflict?.links.slice(0, MAX_LINKS) ?? [],
    rules: row.conflict?.rules ?? [],
    subjects: [],
    openedAt: row.openedAt.toISOString(),
    reopenedAt: iso(row.reopenedAt),
    settledAt: iso(row.settledAt),
    seenAt: row.seenAt.toISOString(),
    version: row.version,
  }
}

/** A case with the host of its domain; 404 where there is none. Under a change its row is locked. */
export async function findCase(
  db: Database,
  id: number,
  change?: Change,
): Promise<{ row: DocketCaseModel; host: string | undefined }> {
  const row = await db.DocketCase.findByPk(
    id,
    change && { transaction: change.transaction, lock: change.transaction.LOCK.UPDATE },
  )
  if (!row) throw notFound('case')
  const domain =
    row.domainId === null
      ? null
      : await db.Domain.findByPk(row.domainId, { attributes: ['host'], transaction: change?.transaction })
  return { row, host: domain?.host }
}
