import { Op, QueryTypes } from 'sequelize'
import type { ToldCase } from '../../../core/notices'
import { nearness, type CaseKindName } from '../../../core/docket'
import type { Database } from '../../database/open'
import type { DocketCaseModel } from '../../database/models/docket-case'
import { nameOfCase } from '../docket/case-view'

/** A case as notices tell and choose it. */
export interface NoticeCase extends ToldCase {
  id: number
  kind: CaseKindName
  caseKey: string
  domainId: number | null
  noticeId: number | null
  headline: string
  sentence: string
  severity: DocketCaseModel['severity']
  /** What it is about, in short. */
  name: string
  /** Whether its harm lies ahead. */
  ahead: boolean
  /** The host its destination is on, where it is about one. */
  host: string | undefined
}

/** Reads what notices need of cases: the owners of their links, and the host a broken target is on. */
export async function toldCases(db: Database, rows: readonly DocketCaseModel[]): Promise<NoticeCase[]> {
  if (rows.length === 0) return []
  const ids = rows.map(({ id }) => id)
  const [owners, targets] = await Promise.all([
    db.sequelize.query<{ case_id: number; owner: string }>(
      `SELECT DISTINCT x.case_id, l.owner FROM docket_case_link x JOIN link l ON l.id = x.link_id
       WHERE x.case_id IN (?) AND l.owner <> ''`,
      { replacements: [ids], type: QueryTypes.SELECT },
    ),
    db.Target.findAll({
      attributes: ['hash', 'host'],
      where: { hash: rows.filter(({ lane }) => lane === 'targets').map(({ caseKey }) => caseKey) },
    }),
  ])
  const ownersOf = new Map<number, string[]>()
  for (const { case_id: id, owner } of owners) ownersOf.set(Number(id), [...(ownersOf.get(Number(id)) ?? []), owner])
  const domains = new Map((await db.Domain.findAll({ attributes: ['id', 'host'] })).map(({ id, host }) => [id, host]))
  const now = Date.now()
  const hosts = new Map(targets.map(({ hash, host }) => [hash, host]))
  return rows.map((row) => ({
    id: row.id,
    kind: row.kind as CaseKindName,
    caseKey: row.caseKey,
    lane: row.lane,
    domainId: row.domainId,
    noticeId: row.noticeId ?? null,
    headline: row.headline,
    sentence: row.sentence,
    severity: row.severity,
    harmed: Number(row.impact) * Number(row.share),
    nearness: nearness(row.harmAt?.getTime() ?? null, now),
    ahead: row.harmAt != null && row.harmAt.getTime() > now,
    name: nameOfCase(row, domains.get(row.domainId ?? 0)),
    owners: ownersOf.get(row.id) ?? [],
    host: hosts.get(row.caseKey),
  }))
}

/** Those who may be told: members that are active and have chosen a password. */
export const membersTold = (db: Database) =>
  db.Member.findAll({
    attributes: ['id', 'email', 'name', 'role'],
    where: { active: true, passwordHash: { [Op.ne]: null } },
  })
