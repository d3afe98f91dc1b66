import { isDeepStrictEqual } from 'node:util'
import { QueryTypes, type Transaction } from 'sequelize'
import { showHost } from '../../../core/address'
import { readSuffix } from '../../../core/dns'
import { hstsRefusal, hstsSinceAfter } from '../../../core/domain/hsts'
import { DOMAIN_FIELDS, stateOf } from '../../../core/rows'
import type { Domain, DomainCreate, DomainPatch } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { DomainModel } from '../../database/models/domain'
import type { State } from '../../database/models/ledger-entry'
import { checkFallbacks } from './check-fallbacks'
import { findDomain } from './find-domain'
import { runChange, type Actor, type Change } from '../ledger/change'
import { versionConflict, fieldProblem, Problem } from '../problem'
import { usualBlocked } from '../slug-rules/usual-blocked'

/** What the ledger keeps of a domain. */
export const domainState = (domain: DomainModel): State => stateOf(DOMAIN_FIELDS, domain)

/** A domain as the API tells it. */
export function toDomainView(domain: DomainModel): Domain {
  const { slugRules: _slugRules, ...state } = domainState(domain)
  return {
    ...(state as unknown as Domain),
    id: domain.id,
    host: domain.host,
    shown: showHost(domain.host),
    version: domain.version,
  }
}

/** Refuses a name no domain can have: a public suffix, one that is there already, or one below another domain. */
export async function refuseHost(db: Database, host: string, below: boolean, transaction?: Transaction): Promise<void> {
  const suffix = readSuffix(host)
  if (suffix.isPublicSuffix) {
    throw fieldProblem(
      'host',
      `${host} is a public suffix, under which anybody may register names; it belongs to a registry. Give ` +
        `a name registered below it, like “ansl.${host}”.`,
    )
  }
  const hosts = (await db.Domain.findAll({ attributes: ['host'], transaction })).map((domain) => domain.host)
  if (hosts.includes(host)) throw fieldProblem('host', `${host} is one of the organisation’s domains already.`, 409)
  const above = hosts.find((other) => host.endsWith('.' + other))
  if (above && !below) {
    const detail =
      `${host} is a sub-domain of ${above}, which you have already. Set “below” to add it ` +
      `anyway; its records are in the zone of ${above}.`
    throw new Problem(409, 'Lies under another domain', detail, [{ pointer: '/host', detail }], { above })
  }
}

/** Adds a domain. It answers nobody until it is proved to be the organisation's and opened. */
export function createDomain(db: Database, actor: Actor, input: DomainCreate): Promise<Domain> {
  return runChange(db, actor, async (change) => {
    await refuseHost(db, input.host, input.below, change.transaction)
    const domain = await db.Domain.create(
      {
        host: input.host,
        standing: 'not-proved',
        defaultStatus: input.defaultStatus,
        slugRules: { blocked: [...usualBlocked] },
        appSchemes: [],
        createdAt: change.now,
        updatedAt: change.now,
      },
      { transaction: change.transaction },
    )
    await domain.reload({ transaction: change.transaction })
    await db.DomainWatch.create({ domainId: domain.id, dueAt: change.now }, { transaction: change.transaction })
    await change.record({
      action: 'create',
      subject: { kind: 'domain', id: domain.id, label: domain.host },
      reason: input.reason,
      before: null,
      after: domainState(domain),
    })
    return toDomainView(domain)
  })
}

/** Changes a domain that stands at `version`; a later version is refused with 412 and told in full. */
export function changeDomain(
  db: Database,
  actor: Actor,
  id: number,
  version: number,
  patch: DomainPatch,
): Promise<Domain> {
  return runChange(
    db,
    actor,
    async (change) => {
      const domain = await findDomain(db, id, change.transaction)
      if (domain.version !== version) throw versionConflict(domain.host, toDomainView(domain), patch)
      const { reason, ...fields } = patch
      const before = domainState(domain)
      const after: State = {
        ...before,
        ...Object.fromEntries(Object.entries(fields).filter(([, value]) => value !== undefined)),
      }
      if (isDeepStrictEqual(before, after)) return toDomainView(domain)
      checkFallbacks(change, domain, before, after)
      const refusal = hstsRefusal(httpsOf(before), httpsOf(after), change.now.getTime())
      if (refusal) throw fieldProblem(refusal.field, refusal.detail)
      after.hstsSince = hstsSinceAfter(httpsOf(before), httpsOf(after).hstsSeconds, change.now.getTime())
      await writeDomain(db, change, domain, after)
      await change.record({
        action: 'change',
        subject: { kind: 'domain', id, label: domain.host },
        reason,
        before,
        after,
      })
      return toDomainView(domain)
    },
    { surveyed: true },
  )
}

/** What a state says of https. */
const httpsOf = ({ httpsOnly, hstsSeconds, hstsSince }: State) => ({
  httpsOnly: httpsOnly === true,
  hstsSeconds: (hstsSeconds ?? null) as number | null,
  hstsSince: hstsSince === null || hstsSince === undefined ? null : new Date(hstsSince as string | number).getTime(),
})

/** Writes a state into a domain's row. How slugs are read may change only while the domain has no links. */
export async function writeDomain(db: Database, change: Change, domain: DomainModel, state: State): Promise<void> {
  for (const field of ['capitalsMatter', 'trailingSlashMatters'] as const) {
    if (domain[field] === state[field]) continue
    const [{ links } = { links: 0 }] = await db.sequelize.query<{ links: number }>(
      'SELECT COUNT(*) AS links FROM link WHERE domain_id = ?',
      {
        replacements: [domain.id],
        type: QueryTypes.SELECT,
        transaction: change.transaction,
      },
    )
    if (Number(links) > 0) {
      throw fieldProblem(
        field,
        `${domain.host} has ${links} links, and reading their slugs differently could merge some; change ` +
          'it under Slug rules, where each is settled first.',
        409,
      )
    }
  }
  await domain.update(
    { ...state, version: domain.version + 1, updatedAt: change.now },
    { transaction: change.transaction },
  )
}
