import { QueryTypes } from 'sequelize'
import { forgive, NearSlugs, type Mend } from '../../../core/table'
import type { Forgiveness } from '../../../core/rows'
import type { ForgivenessReport } from '../../../core/schemas'
import type { Database } from '../../database/open'
import { findDomain } from '../domains/find-domain'
import { DAYS } from '../links/listed-views'
import { currentSurvey } from '../conflicts/survey'

/** Paths looked at, those asked for most first. */
const MAX_PATHS = 20_000
const MAX_EXAMPLES = 5
const PARTS: readonly [part: Mend, key: keyof Forgiveness][] = [
  ['punctuation', 'punctuation'],
  ['capitals', 'capitals'],
  ['look-alikes', 'lookAlikes'],
]

/**
 * For each part of forgiveness: what it mended in the last 28 days, what it would have mended of the requests that
 * found nothing, and where several links remained. Each part is told as it would be after those before it in their
 * order, so that no request is counted twice.
 */
export async function forgivenessReport(db: Database, id: number): Promise<ForgivenessReport> {
  await findDomain(db, id)
  const survey = await currentSurvey(db)
  const select = <Row extends object>(sql: string) =>
    db.sequelize.query<Row>(sql, { replacements: { id, days: DAYS, most: MAX_PATHS }, type: QueryTypes.SELECT })
  const since = 'domain_id = :id AND day > DATE_SUB(UTC_DATE(), INTERVAL :days DAY)'
  const [missed, did] = await Promise.all([
    select<{ path: string; requests: string }>(
      `SELECT path, SUM(requests) AS requests FROM stray_day WHERE ${since} AND outcome = 'not-found'
       GROUP BY path ORDER BY requests DESC LIMIT :most`,
    ),
    select<{ mended: Mend; requests: string }>(
      `SELECT mended, SUM(requests) AS requests FROM stray_day WHERE ${since} AND mended <> '' GROUP BY mended`,
    ),
  ])
  const part = survey.state.table.domains.get(id)!
  const all: Forgiveness = { punctuation: true, capitals: true, lookAlikes: true }
  // The gateway's own code, with every part on; what mends tells which part it takes.
  const asIf = { ...part, domain: { ...part.domain, forgiveness: all }, near: new NearSlugs(all, part.links.keys()) }
  const parts = PARTS.map(([name, key]) => ({
    part: name,
    on: survey.state.domains.get(id)!.forgiveness[key],
    did: Number(did.find(({ mended }) => mended === name)?.requests ?? 0),
    would: 0,
    ambiguous: 0,
    examples: [] as ForgivenessReport['parts'][number]['examples'],
  }))
  for (const { path, requests } of missed) {
    // What somebody has made a link of since needs no forgiveness.
    const verdict = path === '' || part.links.has(path) ? undefined : forgive(asIf, path, Date.now())
    const view = verdict && parts.find((one) => one.part === verdict.by)
    if (!verdict || !view) continue
    if (verdict.verdict === 'mended') view.would += Number(requests)
    else view.ambiguous += Number(requests)
    if (view.examples.length < MAX_EXAMPLES)
      view.examples.push({
        path,
        requests: Number(requests),
        leadsTo: verdict.verdict === 'mended' ? verdict.slug : null,
      })
  }
  return {
    days: DAYS,
    missed: missed.reduce((sum, { requests }) => sum + Number(requests), 0),
    paths: missed.length,
    parts,
  }
}
