import { isDeepStrictEqual } from 'node:util'
import { QueryTypes } from 'sequelize'
import { showHost } from '../../core/address'
import type { Domain, DomainCreate, DomainPatch } from '../../core/schemas'
import type { Database } from '../database/open'
import type { DomainModel } from '../database/models/domain'
import type { State } from '../database/models/ledger-entry'
import { change, type Actor, type Change } from './change'
import { fieldProblem, notHere, Problem } from './problem'

const KEPT = [
  'standing', 'capitalsMatter', 'trailingSlashMatters', 'defaultStatus', 'permanenceSeconds',
  'rootDestination', 'notFoundDestination', 'endedDestination', 'appSchemes',
] as const

/** What the ledger keeps of a domain. */
export const domainState = (domain: DomainModel): State => Object.fromEntries(KEPT.map((key) => [key, domain[key]]))

/** A domain as the API tells it. */
export function tellDomain(domain: DomainModel): Domain {
  return { ...(domainState(domain) as unknown as Domain), id: Number(domain.id), host: domain.host, shown: showHost(domain.host), version: domain.version }
}

export const listDomains = async (db: Database): Promise<Domain[]> => (await db.Domain.findAll({ order: ['id'] })).map(tellDomain)

export async function readDomain(db: Database, id: number): Promise<Domain> {
  const domain = await db.Domain.findByPk(id)
  if (!domain) throw notHere('domain')
  return tellDomain(domain)
}

/** Adds a domain. */
export function createDomain(db: Database, actor: Actor, given: DomainCreate): Promise<Domain> {
  return change(db, actor, async (under) => {
    if (await db.Domain.findOne({ where: { host: given.host }, transaction: under.transaction })) {
      throw fieldProblem('host', `${given.host} is one of the organisation’s domains already.`, 409)
    }
    const domain = await db.Domain.create(
      { host: given.host, standing: given.standing, defaultStatus: given.defaultStatus, appSchemes: [], createdAt: under.now, updatedAt: under.now },
      { transaction: under.transaction },
    )
    await domain.reload({ transaction: under.transaction })
    await under.record({ action: 'create', subject: { kind: 'domain', id: Number(domain.id), label: domain.host }, reason: given.reason, before: null, after: domainState(domain) })
    return tellDomain(domain)
  })
}

/** Changes a domain that stands at `version`; a later version is refused with 412 and told in full. */
export function changeDomain(db: Database, actor: Actor, id: number, version: number, patch: DomainPatch): Promise<Domain> {
  return change(db, actor, async (under) => {
    const domain = await db.Domain.findByPk(id, { transaction: under.transaction, lock: under.transaction.LOCK.UPDATE })
    if (!domain) throw notHere('domain')
    if (domain.version !== version) {
      throw new Problem(412, 'Changed meanwhile', `Somebody saved ${domain.host} after you opened it.`, [], { current: tellDomain(domain), yours: patch })
    }
    const { reason, ...fields } = patch
    const before = domainState(domain)
    const after: State = { ...before, ...Object.fromEntries(Object.entries(fields).filter(([, value]) => value !== undefined)) }
    if (isDeepStrictEqual(before, after)) return tellDomain(domain)
    await writeDomain(db, under, domain, after)
    await under.record({ action: 'change', subject: { kind: 'domain', id, label: domain.host }, reason, before, after })
    return tellDomain(domain)
  })
}

/** Writes a state into a domain's row. How slugs are read may change only while the domain has no links. */
export async function writeDomain(db: Database, under: Change, domain: DomainModel, state: State): Promise<void> {
  for (const field of ['capitalsMatter', 'trailingSlashMatters'] as const) {
    if (domain[field] === state[field]) continue
    const [{ links } = { links: 0 }] = await db.sequelize.query<{ links: number }>('SELECT COUNT(*) AS links FROM link WHERE domain_id = ?', {
      replacements: [domain.id],
      type: QueryTypes.SELECT,
      transaction: under.transaction,
    })
    if (Number(links) > 0) {
      throw fieldProblem(field, `${domain.host} has ${links} links, and reading their slugs differently could merge some; this can be changed only while a domain has none.`, 409)
    }
  }
  await domain.update({ ...state, version: domain.version + 1, updatedAt: under.now }, { transaction: under.transaction })
}
