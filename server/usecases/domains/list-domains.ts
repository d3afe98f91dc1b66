import { QueryTypes } from 'sequelize'
import { nextStep, type Beside } from '../../../core/domain/next-step'
import { isOpenStanding, type Domain } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { DomainModel } from '../../database/models/domain'
import { toDomainView } from './change-domain'
import { notFound } from '../problem'

const remembered = new WeakMap<Database, { revision: number; links: Map<number, number> }>()

/**
 * How many links each domain has, as the register counts them; of a domain that is not open, those that wait for it,
 * without retired ones. Remembered for as long as no change was made.
 */
async function countByDomain(db: Database): Promise<Map<number, number>> {
  const [organisation] = await db.sequelize.query<{ revision: number }>(
    'SELECT revision FROM organisation WHERE id = 1',
    { type: QueryTypes.SELECT },
  )
  const revision = Number(organisation?.revision ?? 0)
  const known = remembered.get(db)
  if (known?.revision === revision) return known.links
  const rows = await db.sequelize.query<{ domain_id: number; links: number }>(
    `SELECT l.domain_id, COUNT(*) AS links FROM link l JOIN domain d ON d.id = l.domain_id
     WHERE d.standing IN ('open', 'drifted') OR l.standing <> 'retired' GROUP BY l.domain_id`,
    { type: QueryTypes.SELECT },
  )
  const links = new Map(rows.map((row) => [Number(row.domain_id), Number(row.links)]))
  // Slugs that forward are told with their links; there are few, and an index has them.
  const forwarding = await db.sequelize.query<{ domain_id: number; slugs: number }>(
    'SELECT domain_id, COUNT(*) AS slugs FROM link WHERE forwards_to IS NOT NULL GROUP BY domain_id',
    { type: QueryTypes.SELECT },
  )
  for (const row of forwarding) links.set(Number(row.domain_id), links.get(Number(row.domain_id))! - Number(row.slugs))
  remembered.set(db, { revision, links })
  return links
}

async function readBeside(db: Database, id?: number): Promise<Map<number, Beside>> {
  const where = id === undefined ? '' : 'WHERE d.id = :id'
  const counting = countByDomain(db)
  const rows = await db.sequelize.query<{
    id: number
    cases: number | null
    looked_at: Date | null
    known: number | null
    everyone_by: Date | null
    reached: number | null
  }>(
    `SELECT d.id, c.cases, w.looked_at, z.domain_id IS NOT NULL AS known, w.everyone_by, JSON_VALUE(w.reach, '$.ok')
      AS reached
     FROM domain d
     LEFT JOIN (SELECT domain_id, COUNT(DISTINCT COALESCE(cause, CONCAT('case ', id))) AS cases FROM docket_case
       WHERE state = 'open' AND lane = 'domains' GROUP BY domain_id) c ON c.domain_id = d.id
     LEFT JOIN domain_watch w ON w.domain_id = d.id
     LEFT JOIN domain_zone z ON z.domain_id = d.id ${where}`,
    { replacements: { id }, type: QueryTypes.SELECT },
  )
  const links = await counting
  return new Map(
    rows.map((row) => [
      row.id,
      {
        links: links.get(row.id) ?? 0,
        cases: Number(row.cases ?? 0),
        lookedAt: row.looked_at,
        known: Boolean(row.known),
        everyoneBy: row.everyone_by,
        reached: Number(row.reached ?? 0) === 1,
      },
    ]),
  )
}

function toWholeView(domain: DomainModel, beside: Beside | undefined, now: Date): Domain {
  const view = toDomainView(domain)
  if (!beside) return view
  return {
    ...view,
    links: beside.links,
    cases: beside.cases,
    lookedAt: beside.lookedAt?.toISOString() ?? null,
    ...nextStep(domain, beside, now),
    everyoneBy: isOpenStanding(domain.standing) ? null : (beside.everyoneBy?.toISOString() ?? null),
  }
}

/** A row of the driver with the types a model would give it. */
function plain(row: DomainModel): DomainModel {
  const schemes: unknown = row.appSchemes
  return Object.assign(row, {
    capitalsMatter: Boolean(row.capitalsMatter),
    trailingSlashMatters: Boolean(row.trailingSlashMatters),
    mendPunctuation: Boolean(row.mendPunctuation),
    mendCapitals: Boolean(row.mendCapitals),
    mendLookAlikes: Boolean(row.mendLookAlikes),
    appSchemes: typeof schemes === 'string' ? (JSON.parse(schemes) as string[]) : schemes,
  })
}

/** All domains, in the order they were added, each with the next thing to do. */
export async function listDomains(db: Database): Promise<Domain[]> {
  // Rows as they come: making a thousand models takes longer than all the rest.
  const [rows, beside] = await Promise.all([db.Domain.findAll({ order: ['id'], raw: true }), readBeside(db)])
  const now = new Date()
  return rows.map((row) => toWholeView(plain(row), beside.get(row.id), now))
}

export async function readDomain(db: Database, id: number): Promise<Domain> {
  const [domain, beside] = await Promise.all([db.Domain.findByPk(id), readBeside(db, id)])
  if (!domain) throw notFound('domain')
  return toWholeView(domain, beside.get(id), new Date())
}
