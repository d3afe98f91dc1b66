import { Op, QueryTypes, type WhereOptions } from 'sequelize'
import { LANES, type Case, type CaseListQuery, type CasePatch, type RemedyRequest } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { DocketCaseModel } from '../../database/models/docket-case'
import type { NamesContext } from '../../names/context'
import { writeCase } from './case-state'
import { change, type Actor, type Change } from '../ledger/change'
import { conflictRemedies } from '../../docket/conflicts/remedies'
import { composeRemedies, type ComposedRemedy } from '../../docket/domains/remedies'
import { notHere, Problem, fieldProblem } from '../problem'

/** Cases of one lane told at once; so many of one kind must not hide another lane. */
const MOST_CASES = 250
/** A case cannot be hidden for longer than this many days; it would be forgotten. */
const MOST_DAYS_ASIDE = 366

const iso = (date: Date | null) => date?.toISOString() ?? null

/** A case as the API tells it. */
export function tellCase(row: DocketCaseModel, host: string | undefined): Case {
  return {
    id: Number(row.id),
    lane: row.lane,
    kind: row.kind,
    subject: row.subject,
    domain: row.domainId === null || host === undefined ? null : { id: Number(row.domainId), host },
    severity: row.severity,
    headline: row.headline,
    sentence: row.sentence,
    evidence: row.evidence,
    impact: Number(row.impact),
    state: row.state,
    setAsideUntil: iso(row.setAsideUntil),
    reason: row.reason,
    settledBy: row.settledBy,
    kept: row.state === 'settled' && Boolean(row.keptPrint),
    links: row.conflict?.links.slice(0, 50) ?? [],
    rules: row.conflict?.rules ?? [],
    openedAt: row.openedAt.toISOString(),
    reopenedAt: iso(row.reopenedAt),
    settledAt: iso(row.settledAt),
    seenAt: row.seenAt.toISOString(),
    version: row.version,
  }
}

/**
 * Cases of a state, those that affect most visits first; with how many there are of each lane, and the visits a day
 * they affect together: those of a domain or link with several cases count once.
 */
export async function listCases(
  db: Database,
  query: CaseListQuery,
): Promise<{ items: Case[]; lanes: { lane: Case['lane']; cases: number; visits: number }[] }> {
  const where: WhereOptions<DocketCaseModel>[] = [{ state: query.state }]
  if (query.domain) where.push({ domainId: query.domain })
  const [rows, domains, lanes] = await Promise.all([
    Promise.all(
      (query.lane ? [query.lane] : LANES).map((lane) =>
        db.DocketCase.findAll({
          where: { [Op.and]: [...where, { lane }] },
          order: [
            ['impact', 'DESC'],
            ['severity', 'ASC'],
            ['id', 'ASC'],
          ],
          limit: MOST_CASES,
        }),
      ),
    ).then((found) => found.flat().sort((a, b) => Number(b.impact) - Number(a.impact))),
    db.Domain.findAll({ attributes: ['id', 'host'] }),
    db.sequelize.query<{ lane: Case['lane']; cases: number; visits: string }>(
      `SELECT lane, SUM(cases) AS cases, SUM(visits) AS visits FROM
        (SELECT lane, COUNT(*) AS cases, MAX(impact) AS visits FROM docket_case WHERE state = ? GROUP BY lane, domain_id, link_id) each_subject GROUP BY lane`,
      { replacements: [query.state], type: QueryTypes.SELECT },
    ),
  ])
  const hosts = new Map(domains.map((domain) => [Number(domain.id), domain.host]))
  return {
    items: rows.map((row) => tellCase(row, hosts.get(Number(row.domainId)))),
    lanes: lanes.map(({ lane, cases, visits }) => ({ lane, cases: Number(cases), visits: Number(visits) })),
  }
}

async function findCase(
  db: Database,
  id: number,
  under?: Change,
): Promise<{ row: DocketCaseModel; host: string | undefined }> {
  const row = await db.DocketCase.findByPk(
    id,
    under && { transaction: under.transaction, lock: under.transaction.LOCK.UPDATE },
  )
  if (!row) throw notHere('case')
  const domain =
    row.domainId === null
      ? null
      : await db.Domain.findByPk(row.domainId, { attributes: ['host'], transaction: under?.transaction })
  return { row, host: domain?.host }
}

/** One case with its remedies, each verified at this moment. */
export async function readCase(db: Database, names: NamesContext, id: number): Promise<Case> {
  const { row, host } = await findCase(db, id)
  const remedies = row.state === 'settled' ? [] : (await remediesOf(db, names, row)).map((remedy) => remedy.told)
  return { ...tellCase(row, host), remedies }
}

const remediesOf = (db: Database, names: NamesContext, row: DocketCaseModel): Promise<ComposedRemedy[]> =>
  row.lane === 'conflicts' ? conflictRemedies(db, row) : composeRemedies(db, names, row)

/** Sets a case aside until a moment, with a reason, or takes it back up. */
export function patchCase(db: Database, actor: Actor, id: number, version: number, patch: CasePatch): Promise<Case> {
  return change(db, actor, async (under) => {
    const { row, host } = await findCase(db, id, under)
    if (row.version !== version)
      throw new Problem(412, 'Changed meanwhile', 'This case changed after you opened it.', [], {
        current: tellCase(row, host),
        yours: patch,
      })
    if (row.state === 'settled')
      throw new Problem(
        409,
        'Settled',
        `This case has been settled by ${row.settledBy ?? 'itself'}; there is nothing to set aside.`,
      )
    const until = patch.state === 'set-aside' ? new Date(patch.until) : null
    if (until && until <= under.now) throw fieldProblem('until', 'This moment has passed; give one to come.')
    if (until && until.getTime() > under.now.getTime() + MOST_DAYS_ASIDE * 86_400_000)
      throw fieldProblem('until', 'A case can be set aside for a year at most.')
    if (patch.state === 'set-aside' && (patch.reason ?? '') === '')
      throw fieldProblem('reason', 'Say why it is set aside, for whoever wonders later.')
    await writeCase(
      under,
      row,
      host,
      { state: patch.state, setAsideUntil: iso(until), reason: patch.reason ?? '' },
      patch.state === 'set-aside' ? 'set-aside' : 'take-up',
    )
    return tellCase(row, host)
  })
}

/** Applies a remedy, counted from 1 as it is listed, with what it asks for. */
export async function applyRemedy(
  db: Database,
  names: NamesContext,
  actor: Actor,
  id: number,
  number: number,
  request: RemedyRequest,
): Promise<{ case: Case; sentence: string }> {
  const { row } = await findCase(db, id)
  if (row.state === 'settled') throw new Problem(409, 'Settled', 'This case has been settled already.')
  const remedies = await remediesOf(db, names, row)
  const chosen = remedies[number - 1]
  if (!chosen) throw notHere('remedy')
  if (!chosen.apply)
    throw new Problem(
      409,
      'Not from here',
      `“${chosen.told.title}” cannot be applied from here. ${chosen.told.sentence}`,
    )
  const sentence = await chosen.apply(actor, request)
  const after = await findCase(db, id)
  return { case: tellCase(after.row, after.host), sentence }
}
