import { QueryTypes } from 'sequelize'
import {
  changeZone,
  compareZones,
  hostOfName,
  lookup,
  makeZone,
  nameForms,
  nameOfHost,
  readZone,
  setKey,
  switchPlan,
  wholeChange,
  zoneAfter,
  type LookupAnswer,
  type SetDifference,
  type SwitchPlan,
  type Zone,
  type ZoneChange,
} from '../../../core/dns'
import { isOpenStanding, type LookupView, type PlanView } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { DomainModel } from '../../database/models/domain'
import type { NamesContext } from '../../names/context'
import { findingsOf, readBroughtZone, toFindingView, toRecordView, type BroughtZone } from './domain-zone'
import { findDomain } from './find-domain'
import { readOverview } from './domain-overview'
import { Problem } from '../problem'
import { toKeyView } from './update-key'

const iso = (moment: number | undefined) => (moment === undefined ? null : new Date(moment).toISOString())

/** How many links of a domain wait for it to open. */
export async function countLinksOf(db: Database, domainId: number): Promise<number> {
  const [count] = await db.sequelize.query<{ links: number }>(
    "SELECT COUNT(*) AS links FROM link WHERE domain_id = ? AND standing <> 'retired'",
    { replacements: [domainId], type: QueryTypes.SELECT },
  )
  return Number(count?.links ?? 0)
}

/** The switch plan with its records, ticked by what was seen so far. */
export async function readPlan(db: Database, names: NamesContext, id: number): Promise<PlanView> {
  const domain = await findDomain(db, id)
  const now = new Date()
  const [overview, key, links] = await Promise.all([
    readOverview(db, names, domain, now),
    db.UpdateKey.findByPk(id),
    countLinksOf(db, id),
  ])
  const { plan, zone, steps, brought } = overview
  const change = wholeChange(zone, plan, now)
  const known = brought !== undefined
  return {
    use: plan.needed.use,
    why: plan.needed.why,
    blocked: plan.blocked ?? null,
    origin: hostOfName(zone.origin),
    zoneKnown: known,
    steps: steps.map((step) => ({
      ...step,
      add: step.add.map(toRecordView),
      remove: step.remove.map(toRecordView),
      doneAt: iso(step.doneAt),
      until: iso(step.until),
    })),
    records: plan.records.map((record) => ({ ...toRecordView(record), forms: nameForms(record.name, zone.origin) })),
    differences: known
      ? differencesOf(zone, change).map((difference) => ({
          ...difference,
          name: hostOfName(difference.name),
          before: difference.before.map(toRecordView),
          after: difference.after.map(toRecordView),
        }))
      : [],
    caa: { allowed: plan.needed.caaVerdict.allowed, sentence: plan.needed.caaVerdict.sentence },
    waiting: isOpenStanding(domain.standing) ? 0 : links,
    canPush: key !== null,
    key: key ? toKeyView(key) : null,
    findings: brought ? (await findingsOf(domain, brought, names)).map(toFindingView) : [],
  }
}

/** What a change makes of the sets it touches, the SOA's serial with them; the rest of the zone stays out of it. */
function differencesOf(zone: Zone, change: ZoneChange): SetDifference[] {
  const touched = new Set([...change.remove, ...change.add, { name: zone.origin, type: 'SOA' }].map(setKey))
  const before = makeZone(
    zone.origin,
    zone.records.filter((record) => touched.has(setKey(record))),
  )
  return compareZones(before.records, zoneAfter(before, change).records)
}

/** The brought zone of a domain with its plan; a problem where no zone is there yet. */
export async function needZone(
  db: Database,
  names: NamesContext,
  id: number,
): Promise<{ domain: DomainModel; brought: BroughtZone; plan: SwitchPlan }> {
  const domain = await findDomain(db, id)
  const brought = await readBroughtZone(db, id)
  if (!brought)
    throw new Problem(
      409,
      'No zone yet',
      `Nothing is known of ${domain.host}’s zone yet. Bring the zone file, have the zone transferred, or ` +
        'ask the name servers.',
    )
  return { domain, brought, plan: switchPlan(brought.zone, nameOfHost(domain.host), domain.proofToken, names.gateway) }
}

/**
 * The zone as it was brought, and as it is after the whole plan; master files, octet for octet what no step touches.
 */
export async function readZoneFiles(
  db: Database,
  names: NamesContext,
  id: number,
): Promise<{ host: string; before: string; after: string }> {
  const { domain, brought, plan } = await needZone(db, names, id)
  return {
    host: domain.host,
    before: brought.file.text,
    after: changeZone(brought.file, wholeChange(brought.zone, plan, new Date())),
  }
}

/** What a question is answered with before and after the change, by running the lookup algorithm over both zones. */
export async function lookUp(
  db: Database,
  names: NamesContext,
  id: number,
  question: { name: string; type: string },
): Promise<LookupView> {
  const { brought, plan } = await needZone(db, names, id)
  // The changed file is read again, so that the answer is that of the file that is handed out.
  const after = readZone(changeZone(brought.file, wholeChange(brought.zone, plan, new Date())), brought.file.origin)
  return { before: toAnswerView(brought.zone), after: toAnswerView(makeZone(after.origin, after.records)) }

  function toAnswerView(zone: Zone): LookupView['before'] {
    const answer: LookupAnswer = lookup(zone, question.name, question.type)
    return {
      ...answer,
      answer: answer.answer.map(toRecordView),
      authority: answer.authority.map(toRecordView),
      additional: answer.additional.map(toRecordView),
    }
  }
}
