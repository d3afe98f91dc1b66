import { showHost } from '../../../core/address'
import { handoverText } from '../../../core/domain/handover-text'
import type { Handover, HandoverPage } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { DomainModel } from '../../database/models/domain'
import type { NamesContext } from '../../names/context'
import { mailFacts, type MailContext } from '../notices/mail-context'
import { notFound } from '../problem'
import { idOfKey, isSignedFor, signedKey } from '../signed-key'
import { readObservations } from './domain-observations'
import { readPlan } from './domain-plan'
import { findDomain } from './find-domain'

/** Bound to the ownership record, so that a domain removed and added again has another page. */
const purposeOf = ({ id, proofToken }: DomainModel) => `handover ${id} ${proofToken}`

/** The text for the person who keeps a domain's zone, and the page that shows whether its records have arrived. */
export async function readHandover(
  db: Database,
  names: NamesContext,
  mail: MailContext,
  id: number,
): Promise<Handover> {
  const domain = await findDomain(db, id)
  const [plan, facts] = await Promise.all([readPlan(db, names, id), mailFacts(db, mail)])
  const page = `${facts.desk}/handover?key=${signedKey(mail.secret, id, purposeOf(domain))}`
  const removed = plan.steps.find(({ key }) => key === 'switch')?.remove ?? []
  const text = handoverText({
    host: showHost(domain.host),
    zone: showHost(plan.origin),
    organisation: facts.organisation,
    place: plan.records.map((record) => ({ ...record, name: record.forms.absolute })),
    replace: removed.map((record) => ({ ...record, name: `${record.name.replace(/\.$/, '')}.` })),
    page,
  })
  return { text, page }
}

/** What the page shows to anyone who has its key; 404 for anybody else. */
export async function readHandoverPage(
  db: Database,
  names: NamesContext,
  mail: MailContext,
  key: string,
): Promise<HandoverPage> {
  const domain = await db.Domain.findByPk(idOfKey(key))
  if (!domain || !isSignedFor(mail.secret, key, purposeOf(domain))) throw notFound('page')
  const [plan, observations, facts] = await Promise.all([
    readPlan(db, names, domain.id),
    readObservations(db, names, domain.id),
    mailFacts(db, mail),
  ])
  const servers = observations.servers.filter(({ role }) => role === 'authority').map(({ server }) => server)
  return {
    host: showHost(domain.host),
    zone: showHost(plan.origin),
    organisation: facts.organisation,
    records: plan.records.map((record) => {
      const seen = servers.map((server) => ({
        server,
        sight:
          observations.items.find(
            (item) =>
              item.role === 'authority' &&
              item.server === server &&
              item.name === record.name &&
              item.type === record.type,
          )?.sight ?? null,
      }))
      return { ...record, seen, arrived: seen.length > 0 && seen.every(({ sight }) => sight === 'new') }
    }),
    lookedAt: observations.lookedAt,
  }
}
