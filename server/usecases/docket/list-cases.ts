import { QueryTypes } from 'sequelize'
import type { Case, CaseList, CaseListQuery } from '../../../core/schemas'
import type { DocketCaseModel } from '../../database/models/docket-case'
import type { Database } from '../../database/open'
import { toCaseView } from './case-view'

/** Cases told at once; remarks, which fold away, apart from them. */
const MAX_CASES = 500
const MAX_REMARKS = 250

/** The urgency of semantics §14, as core/docket/urgency.ts reckons it. */
const URGENCY = `c.impact * c.share * IF(c.irrevocable, 2, 1)
  * IF(c.harm_at IS NULL, 1, LEAST(1, 3 / GREATEST(3, TIMESTAMPDIFF(SECOND, :now, c.harm_at) / 86400)))`

/** What cases are counted by: those of one cause are one. */
const CAUSE = "COALESCE(c.cause, CONCAT('case ', c.id))"

/** Of the cases `found`, how many each cause has and what they affect: a domain with several of them counts once. */
const FIGURES = `parts AS (
    SELECT cause, COUNT(*) AS cases, MAX(impact) AS impact FROM found
    GROUP BY cause, domain_id, IF(lane = 'domains', 0, id)),
  figures AS (SELECT cause, SUM(cases) AS cases, SUM(impact) AS impact FROM parts GROUP BY cause)`

/** Links a case is about: those it names, or all of a domain where it is about the domain. */
const ABOUT = `(EXISTS (SELECT 1 FROM docket_case_link x WHERE x.case_id = c.id AND x.link_id = l.id)
  OR (l.domain_id = c.domain_id AND NOT EXISTS (SELECT 1 FROM docket_case_link x WHERE x.case_id = c.id)))`

function whereOf(query: CaseListQuery): string {
  const parts = ['c.state = :state']
  if (query.domain !== undefined) parts.push('c.domain_id = :domain')
  if (query.kind !== undefined) parts.push('c.kind = :kind')
  if (query.owner !== undefined) parts.push(`EXISTS (SELECT 1 FROM link l WHERE l.owner = :owner AND ${ABOUT})`)
  if (query.tag !== undefined)
    parts.push(
      `EXISTS (SELECT 1 FROM tag t JOIN link_tag lt ON lt.tag_id = t.id JOIN link l ON l.id = lt.link_id
        WHERE t.name = :tag AND ${ABOUT})`,
    )
  return parts.join(' AND ')
}

/**
 * Cases of a state, the most urgent first, over all lanes or in one; those of one cause as one. With how many there are
 * of each lane under the same filters, and the visits a day they affect together: those of a domain or link with
 * several cases count once.
 */
export async function listCases(db: Database, query: CaseListQuery): Promise<CaseList> {
  const now = new Date()
  const where = whereOf(query)
  const replacements = { ...query, now }
  const select = (remark: boolean, limit: number) =>
    db.sequelize.query<DocketCaseModel>(
      `WITH found AS (
         SELECT c.id, c.lane, c.domain_id, c.severity, c.impact, ${CAUSE} AS cause, ${URGENCY} AS urgency
         FROM docket_case c WHERE ${where} ${query.lane ? 'AND c.lane = :lane' : ''} AND c.remark = ${remark}),
       ${FIGURES},
       ranked AS (
         SELECT found.*, ROW_NUMBER()
           OVER (PARTITION BY cause ORDER BY urgency DESC, impact DESC, severity, id) AS place
         FROM found)
       SELECT c.*, f.cases AS together, f.impact AS affected FROM ranked r
       JOIN figures f ON f.cause = r.cause JOIN docket_case c ON c.id = r.id WHERE r.place = 1
       ORDER BY r.urgency * IF(r.impact > 0, f.impact / r.impact, 1) DESC, f.impact DESC, c.severity, c.id
       LIMIT ${limit}`,
      { replacements, model: db.DocketCase, mapToModel: true, type: QueryTypes.SELECT },
    )
  const [cases, remarks, domains, organisation, lanes] = await Promise.all([
    select(false, MAX_CASES),
    select(true, MAX_REMARKS),
    db.Domain.findAll({ attributes: ['id', 'host'] }),
    db.Organisation.findByPk(1, { attributes: ['checksPausedSince'] }),
    db.sequelize.query<{ lane: Case['lane']; cases: string; visits: string | null; remarks: string }>(
      `SELECT counted.lane, cases, visits, remarks FROM
        (SELECT c.lane, COUNT(DISTINCT IF(c.remark, NULL, ${CAUSE})) AS cases, SUM(c.remark) AS remarks
         FROM docket_case c WHERE ${where} GROUP BY c.lane) counted
       JOIN
        (SELECT lane, SUM(visits) AS visits FROM
          (SELECT c.lane, MAX(IF(c.remark, 0, c.impact)) AS visits FROM docket_case c WHERE ${where}
           GROUP BY c.lane, c.domain_id, c.link_id, IF(c.lane = 'domains', 0, c.id)) each_subject
         GROUP BY lane) affected
       ON affected.lane = counted.lane`,
      { replacements, type: QueryTypes.SELECT },
    ),
  ])
  const hosts = new Map(domains.map((domain) => [domain.id, domain.host]))
  return {
    items: [...cases, ...remarks].map((row) =>
      toCaseView(row, row.domainId === null ? undefined : hosts.get(row.domainId), now.getTime(), {
        cases: Number(row.get('together' as never)),
        impact: Number(row.get('affected' as never)),
      }),
    ),
    checksPausedSince: organisation?.checksPausedSince?.toISOString() ?? null,
    lanes: lanes.map((lane) => ({
      lane: lane.lane,
      cases: Number(lane.cases),
      visits: Number(lane.visits ?? 0),
      remarks: Number(lane.remarks),
    })),
  }
}
