import { hostOfName, type DnsName } from '../name'
import { negativeTtl, readSoa, recordKey, withSerial, type DnsRecord } from '../record'
import type { ZoneChange } from '../zone/write'
import { nextSerial } from '../zone/serial'
import { delegationOf, makeZone, type Zone } from '../zone/zone'
import { LOW_TTL, type GatewayFacts } from './facts'
import { neededRecords, type Needed } from './needed'

export type StepKey = 'lower-ttl' | 'wait-old-ttl' | 'prove' | 'switch' | 'wait' | 'open'

export interface PlanStep {
  key: StepKey
  title: string
  sentence: string
  remove: DnsRecord[]
  add: DnsRecord[]
  /** How long this step takes at most, in seconds; 0 for one that is done at once. */
  waitSeconds: number
}

export interface SwitchPlan {
  needed: Needed
  /** The records to end up with, in the order they are placed. */
  records: DnsRecord[]
  steps: PlanStep[]
  /** Why no plan can be made; then there are no steps. */
  blocked: string | undefined
  /**
   * The longest TTL of what is replaced, and how long "no such record" is kept where nothing is (RFC 2308 §5); seconds.
   */
  oldTtl: number
  negativeTtl: number
}

const spell = (seconds: number) =>
  seconds < 120
    ? `${seconds} seconds`
    : seconds < 7200
      ? `${Math.ceil(seconds / 60)} minutes`
      : `${Math.round(seconds / 360) / 10} hours`
const commas = (value: number) => value.toLocaleString('en')

/**
 * The switch, in order and timed: lower the TTL, wait the old one out, prove ownership, switch, wait, open. Steps
 * that have nothing to do are left out. What is kept appears in no step.
 */
export function switchPlan(zone: Zone, name: DnsName, token: string, gateway: GatewayFacts): SwitchPlan {
  const needed = neededRecords(zone, name, token, gateway)
  const host = hostOfName(name)
  const [soa] = zone.set(zone.origin, 'SOA')
  const negative = soa ? negativeTtl(soa) : 0
  const missing = [...needed.pointing, needed.proof, ...(needed.caa ? [needed.caa] : [])].filter(
    (wish) => !zone.set(wish.name, wish.type).some((record) => record.data === wish.data),
  )
  const isMissing = (wish: DnsRecord | undefined) => wish !== undefined && missing.includes(wish)
  const oldTtl = Math.max(0, ...[...needed.replaced, ...needed.throughWildcard].map((record) => record.ttl))
  const steps: PlanStep[] = []
  const cut = delegationOf(zone, name)
  const blocked =
    cut !== undefined
      ? `${hostOfName(cut)} is delegated to its own name servers. Bring that zone instead of ` +
        `${hostOfName(zone.origin)}.`
      : needed.pointing.length === 0
        ? 'This installation knows no public name or address of its gateway. Have its operator set ' +
          'FIDES_PUBLIC_NAME or FIDES_PUBLIC_ADDRESSES.'
        : undefined
  if (blocked === undefined) layOut()
  return {
    needed,
    records: blocked ? [] : [...needed.pointing, needed.proof, ...(needed.caa ? [needed.caa] : [])],
    steps,
    blocked,
    oldTtl,
    negativeTtl: negative,
  }

  function layOut(): void {
    const lowered = needed.replaced.filter((record) => record.ttl > LOW_TTL)
    if (lowered.length > 0) {
      steps.push({
        key: 'lower-ttl',
        title: 'Lower the old record’s TTL',
        waitSeconds: 0,
        remove: lowered,
        add: lowered.map((record) => ({ ...record, ttl: LOW_TTL })),
        sentence:
          `From ${commas(oldTtl)} to ${LOW_TTL} s, so that the switch is seen within minutes. Nothing ` +
          'changes for visitors.',
      })
      steps.push({
        key: 'wait-old-ttl',
        title: 'Wait for the old TTL',
        waitSeconds: oldTtl,
        remove: [],
        add: [],
        sentence: `${spell(oldTtl)} at most: until then some resolvers still hold the record with its long TTL.`,
      })
    }
    const proving = [needed.proof, needed.caa].filter((wish): wish is DnsRecord => isMissing(wish))
    const { wildcard } = needed
    if (wildcard === undefined) prove(proving)
    const after = lowered.length > 0 ? LOW_TTL : oldTtl
    const wasThere = needed.replaced.length > 0 || needed.throughWildcard.length > 0
    const replacedTypes = [...new Set(needed.replaced.map((record) => record.type))].join(', ')
    steps.push({
      key: 'switch',
      title:
        wildcard === undefined ? 'Point the address here' : 'Verify ownership and point the address here in one change',
      waitSeconds: 0,
      remove: needed.replaced.map((record) => (record.ttl > LOW_TTL ? { ...record, ttl: LOW_TTL } : record)),
      add: [...(wildcard === undefined ? [] : proving), ...needed.pointing.filter(isMissing)],
      sentence:
        needed.why +
        (needed.replaced.length > 0 ? ` It replaces ${replacedTypes}; everything else stays.` : '') +
        (wildcard === undefined
          ? ''
          : ` Today the wildcard ${hostOfName(wildcard)} answers for ${host}. The ownership record at ` +
            `${hostOfName(needed.proof.name)} alone would end that (RFC 4592 §2.2.2), so place all of these in one ` +
            'change: there is no gap.'),
    })
    const wait = Math.max(wasThere ? after : 0, negative)
    steps.push({
      key: 'wait',
      title: 'Wait for old answers to expire',
      waitSeconds: wait,
      remove: [],
      add: [],
      sentence: wasThere
        ? `${spell(wait)} at most. Keep the old server up until then.`
        : `${spell(wait)} at most: resolvers that were asked for ${host} before keep “no such record” that ` +
          'long (RFC 2308).',
    })
    steps.push({
      key: 'open',
      title: 'Open the domain for links',
      waitSeconds: 0,
      remove: [],
      add: [],
      sentence: 'Its links go live at once.',
    })
  }

  function prove(proving: DnsRecord[]): void {
    steps.push({
      key: 'prove',
      title: 'Verify ownership',
      waitSeconds: 0,
      remove: [],
      add: proving,
      sentence:
        `Place the TXT record at ${hostOfName(needed.proof.name)}` +
        (needed.caa ? `, and the CAA record that lets ${gateway.issuers[0]} in; ` : '; ') +
        'every name server of the zone must serve it.',
    })
  }
}

/** The whole change of a plan, TTL lowering left out: what the zone is like in the end. */
export function wholeChange(zone: Zone, plan: SwitchPlan, day: Date): ZoneChange {
  const [soa] = zone.set(zone.origin, 'SOA')
  const there = new Set(zone.records.map(recordKey))
  const add = plan.records.filter((record) => !there.has(recordKey(record)))
  const remove = plan.blocked ? [] : plan.needed.replaced
  return {
    remove,
    add,
    ...(soa && (add.length > 0 || remove.length > 0) && { serial: nextSerial(readSoa(soa).serial, day) }),
  }
}

/** A zone with a change made in it. */
export function zoneAfter(zone: Zone, change: ZoneChange): Zone {
  const removed = new Set(change.remove.map(recordKey))
  const records = zone.records.filter((record) => !removed.has(recordKey(record)))
  return makeZone(
    zone.origin,
    [...records, ...change.add].map((record) =>
      record.type === 'SOA' && change.serial !== undefined ? withSerial(record, change.serial) : record,
    ),
  )
}
