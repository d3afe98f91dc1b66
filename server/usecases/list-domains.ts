import { QueryTypes } from 'sequelize'
import { isOpenStanding, type Domain } from '../../core/schemas'
import type { Database } from '../database/open'
import type { DomainModel } from '../database/models/domain'
import { tellDomain } from './change-domain'
import { notHere } from './problem'

/** What is known of a domain beside its own row. */
interface Beside {
  links: number
  cases: number
  lookedAt: Date | null
  known: boolean
  everyoneBy: Date | null
  reached: boolean
}

/** What to do next about a domain, in a few words; empty where there is nothing. */
export function nextThing(domain: Pick<Domain, 'standing'>, beside: Beside, now: Date): string {
  if (isOpenStanding(domain.standing)) return beside.cases > 0 ? `Settle ${beside.cases === 1 ? 'one case' : `${beside.cases} cases`}` : domain.standing === 'drifted' ? 'Put its records back' : ''
  if (!beside.known) return beside.lookedAt === null ? 'Wait for the first look' : 'Bring its zone'
  if (domain.standing === 'not-proved') return 'Place the ownership record'
  if (domain.standing === 'proved') return 'Point the address here'
  if (beside.everyoneBy !== null && beside.everyoneBy > now) return 'Wait until everyone sees it'
  return beside.reached ? `Open it for ${beside.links.toLocaleString('en')} waiting ${beside.links === 1 ? 'link' : 'links'}` : 'Wait until it reaches the gateway'
}

async function readBeside(db: Database, id?: number): Promise<Map<number, Beside>> {
  const where = id === undefined ? '' : 'WHERE d.id = :id'
  const rows = await db.sequelize.query<{ id: number; links: number | null; cases: number | null; looked_at: Date | null; known: number | null; everyone_by: Date | null; reached: number | null }>(
    `SELECT d.id, l.links, c.cases, w.looked_at, z.domain_id IS NOT NULL AS known, w.everyone_by, JSON_VALUE(w.reach, '$.ok') AS reached
     FROM domain d
     LEFT JOIN (SELECT domain_id, COUNT(*) AS links FROM link WHERE standing <> 'retired' GROUP BY domain_id) l ON l.domain_id = d.id
     LEFT JOIN (SELECT domain_id, COUNT(*) AS cases FROM docket_case WHERE state = 'open' GROUP BY domain_id) c ON c.domain_id = d.id
     LEFT JOIN domain_watch w ON w.domain_id = d.id
     LEFT JOIN domain_zone z ON z.domain_id = d.id ${where}`,
    { replacements: { id }, type: QueryTypes.SELECT },
  )
  return new Map(rows.map((row) => [Number(row.id), { links: Number(row.links ?? 0), cases: Number(row.cases ?? 0), lookedAt: row.looked_at, known: Boolean(row.known), everyoneBy: row.everyone_by, reached: Number(row.reached ?? 0) === 1 }]))
}

function tellWhole(domain: DomainModel, beside: Beside | undefined, now: Date): Domain {
  const told = tellDomain(domain)
  if (!beside) return told
  return { ...told, links: beside.links, cases: beside.cases, lookedAt: beside.lookedAt?.toISOString() ?? null, next: nextThing(domain, beside, now), everyoneBy: isOpenStanding(domain.standing) ? null : (beside.everyoneBy?.toISOString() ?? null) }
}

/** All domains, in the order they were added, each with the next thing to do. */
export async function listDomains(db: Database): Promise<Domain[]> {
  const [domains, beside] = await Promise.all([db.Domain.findAll({ order: ['id'] }), readBeside(db)])
  const now = new Date()
  return domains.map((domain) => tellWhole(domain, beside.get(Number(domain.id)), now))
}

export async function readDomain(db: Database, id: number): Promise<Domain> {
  const [domain, beside] = await Promise.all([db.Domain.findByPk(id), readBeside(db, id)])
  if (!domain) throw notHere('domain')
  return tellWhole(domain, beside.get(id), new Date())
}
