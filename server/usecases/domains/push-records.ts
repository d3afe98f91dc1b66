import {
  changeZone,
  hostOfName,
  makeZone,
  recordKey,
  recordSets,
  switchPlan,
  type DnsRecord,
  type StepKey,
} from '../../../core/dns'
import type { RecordChange } from '../../../core/dns/wire'
import type { PushView } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { DomainModel } from '../../database/models/domain'
import type { NamesContext } from '../../names/context'
import { readLiveSets } from '../../names/live-sets'
import { pushChange, type NotUpdated } from '../../names/update'
import { runChange, type Actor } from '../ledger/change'
import { readOverview, type DomainOverview } from './domain-overview'
import { pushedZone, toRecordView } from './domain-zone'
import { wayOf } from './server-way'
import { findDomain } from './find-domain'
import { Problem } from '../problem'
import { readUpdateKey, type OpenedKey } from './update-key'

export type PushableStep = Extract<StepKey, 'lower-ttl' | 'prove' | 'switch'>

export const describeRecord = (record: DnsRecord) =>
  `${hostOfName(record.name)} ${record.ttl} ${record.type} ${record.data}`
const clock = (milliseconds: number) => new Date(milliseconds).toISOString().slice(11, 16)

export async function needKey(db: Database, names: NamesContext, domain: DomainModel): Promise<OpenedKey> {
  const opened = await readUpdateKey(db, names, domain)
  if (!opened)
    throw new Problem(
      409,
      'No update key',
      `Give the name server’s update key (TSIG) for ${domain.host} first, or place the records by hand.`,
    )
  return opened
}

/**
 * Places the records of one step of the plan, or of all of it, by dynamic update. Without a step it is the one due
 * now. What the zone holds already is left out; a set that somebody else changed since the zone was read stops it.
 */
export async function pushPlan(
  db: Database,
  names: NamesContext,
  actor: Actor,
  id: number,
  wished: PushableStep | 'all' | undefined,
): Promise<PushView> {
  const domain = await findDomain(db, id)
  const overview = await readOverview(db, names, domain, new Date())
  const { brought, plan } = overview
  if (!brought)
    throw new Problem(
      409,
      'No zone yet',
      `Bring the zone of ${domain.host} first, so that nothing in it is overwritten.`,
    )
  if (plan.blocked !== undefined) throw new Problem(409, 'There is no plan', plan.blocked)
  const opened = await needKey(db, names, domain)
  const step = wished ?? stepDue(overview)
  const { file: base, zone } = await pushedZone(brought)
  // Planned anew from the zone as it is by now, so that records placed before are not placed again.
  const now = switchPlan(zone, overview.name, domain.proofToken, names.gateway)
  const chosen = now.steps.filter((each) =>
    step === 'all' ? each.key === 'prove' || each.key === 'switch' : each.key === step,
  )
  if (chosen.length === 0)
    throw new Problem(
      409,
      'No such step',
      `The plan of ${domain.host} has no step “${step}”: ${
        step === 'prove' ? 'the ownership record goes in one with the switch' : 'there is nothing to do there'
      }.`,
    )
  const wanted: RecordChange = {
    remove: chosen.flatMap((each) => each.remove),
    add: chosen.flatMap((each) => each.add),
  }
  const placed = await placeRecords(db, names, actor, domain, opened, base.origin, zone.records, wanted, step)
  if (placed.done.add.length + placed.done.remove.length > 0)
    await db.DomainZone.update(
      { pushedText: Buffer.from(changeZone(base, placed.done), 'latin1') },
      { where: { domainId: id } },
    )
  if (placed.problem) throw placed.problem
  return placed.push
}

/** The step to place now; refuses where there is nothing to place, or where it is time to wait. */
function stepDue({ steps, domain }: DomainOverview): PushableStep {
  const due = steps.find((step) => step.state === 'now')
  if (due?.key === 'lower-ttl' || due?.key === 'prove' || due?.key === 'switch') return due.key
  if (due?.key === 'wait-old-ttl') {
    throw new Problem(
      409,
      'Wait first',
      `Resolvers may have cached the old record of ${domain.host} with its long ` +
        `TTL${due.until === undefined ? '' : ` until ${clock(due.until)} UTC`}. Wait until then, or choose ` +
        'the step “switch” to continue anyway.',
    )
  }
  throw new Problem(
    409,
    'Nothing to place',
    due?.key === 'wait'
      ? 'All records are placed; they are spreading.'
      : `All records of ${domain.host} are placed and seen.`,
  )
}

interface Placed {
  /** What stands at the server of the change. */
  done: RecordChange
  push: PushView
  entryId: number
  /** Why it was not placed as a whole. */
  problem?: Problem
}

/**
 * Places a change at the domain's update server, with what the sets it touches should hold by `there`; then writes it
 * into the ledger, as it does a try that failed, and has the watch look at once. What is there already is left out.
 */
export async function placeRecords(
  db: Database,
  names: NamesContext,
  actor: Actor,
  domain: DomainModel,
  opened: OpenedKey,
  origin: string,
  there: readonly DnsRecord[],
  wanted: RecordChange,
  step: string,
  undoes?: { entryId: number; reason?: string },
): Promise<Placed> {
  const placed = new Map(there.map((record) => [recordKey(record), record]))
  const add = wanted.add.filter((record) => placed.get(recordKey(record))?.ttl !== record.ttl)
  // As they stand, not as a step left out would have made them: undoing puts these back.
  const remove = wanted.remove.flatMap((record) => placed.get(recordKey(record)) ?? [])
  if (add.length === 0 && remove.length === 0)
    throw new Problem(409, 'Nothing to place', `The zone holds these records of ${domain.host} already.`)
  const way = wayOf(names, opened.server)
  const { serverSigns } = opened
  const pushed = await pushChange(way, makeZone(origin, there), { add, remove }, opened.key, { serverSigns })
  if (pushed.ok && pushed.signs && !serverSigns)
    await db.UpdateKey.update({ serverSigns: true }, { where: { domainId: domain.id } })
  const done = pushed.ok ? { add, remove } : (pushed.left ?? { add: [], remove: [] })
  const isDone = done.add.length + done.remove.length > 0
  const entryId = await runChange(db, actor, async (change) => {
    await db.DomainWatch.update(
      { dueAt: change.now },
      { where: { domainId: domain.id }, transaction: change.transaction },
    )
    return change.record({
      action: !isDone ? 'push-failed' : undoes && pushed.ok ? 'undo' : 'push',
      subject: { kind: 'domain', id: domain.id, label: domain.host },
      undoesId: pushed.ok ? undoes?.entryId : undefined,
      reason: pushed.ok ? (undoes ? undoes.reason : step) : pushed.sentence.slice(0, 500),
      before: isDone ? { records: done.remove.map(describeRecord) } : {},
      after: isDone
        ? { records: done.add.map(describeRecord), origin: hostOfName(origin) }
        : { tried: [...remove, ...add].map(describeRecord), origin: hostOfName(origin) },
    })
  })
  const sets = recordSets([...add, ...remove]).map((set) => `${set.type} at ${hostOfName(set.name)}`)
  return {
    entryId,
    done,
    push: {
      step,
      added: add.map(toRecordView),
      removed: remove.map(toRecordView),
      sentence: `${opened.server} took the change: ${[...new Set(sets)].join(', ')}.`,
    },
    ...(!pushed.ok && { problem: problemOf(pushed) }),
  }
}

const problemOf = (pushed: NotUpdated) =>
  new Problem(
    pushed.reason === 'changed' ? 409 : 502,
    pushed.reason === 'changed' ? 'The zone changed meanwhile' : 'Not placed',
    pushed.sentence,
    [],
    pushed.sets ? { sets: pushed.sets } : {},
  )

/** The records of some sets as the update server gives them now; the base for a change that must overwrite nothing. */
export const liveSets = (
  names: NamesContext,
  opened: OpenedKey,
  sets: readonly { name: string; type: string }[],
): Promise<DnsRecord[] | undefined> => readLiveSets(wayOf(names, opened.server), sets)
