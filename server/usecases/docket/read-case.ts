import type { Case } from '../../../core/schemas'
import type { DocketCaseModel } from '../../database/models/docket-case'
import type { Database } from '../../database/open'
import { linksOfCase } from '../../docket/keeper'
import { laneOf } from '../../docket/lanes'
import type { NamesContext } from '../../names/context'
import { findCase, toCaseView } from './case-view'
import { sameCause } from './same-cause'

/** One case with its subjects, and its remedies verified at this moment. */
export async function readCase(db: Database, names: NamesContext, id: number): Promise<Case> {
  const { row, host } = await findCase(db, id)
  const lane = laneOf(row)
  const [subjects, links, others, remedies, aftermath] = await Promise.all([
    lane.subjects(db, row, host),
    linksOfCase(db, id),
    row.state === 'settled' ? [] : sameCause(db, row),
    row.state === 'settled' ? [] : lane.remedies(db, names, row),
    row.state === 'settled' ? (lane.aftermath?.(db, row) ?? []) : [],
  ])
  const all = [row, ...others]
  const view = toCaseView(row, host, Date.now(), { cases: all.length, impact: affectedBy(all) })
  const domains = await db.Domain.findAll({ attributes: ['id', 'host'] })
  const hosts = new Map(domains.map((domain) => [domain.id, domain.host]))
  return {
    ...view,
    evidence: [...view.evidence, ...aftermath],
    others: others.map((other) => ({
      id: other.id,
      name: laneOf(other).name(other, hosts.get(other.domainId ?? 0)),
    })),
    subjects: [...subjects, ...changeAll(links)],
    remedies: remedies.map((remedy) => remedy.view),
  }
}

/** Visits a day that several cases affect: a domain with several of them counts once. */
function affectedBy(rows: readonly DocketCaseModel[]): number {
  const parts = new Map<string, number>()
  for (const row of rows) {
    const key = row.lane === 'domains' ? `domain ${row.domainId}` : `case ${row.id}`
    parts.set(key, Math.max(parts.get(key) ?? 0, Number(row.impact)))
  }
  return [...parts.values()].reduce((sum, impact) => sum + impact, 0)
}

/** From a case about several links to a change of all of them. */
const changeAll = (links: readonly number[]): Case['subjects'] =>
  links.length < 2
    ? []
    : [{ label: `Change these ${links.length} links…`, to: `/changes/new?links=${links.join(',')}` }]
