import { recordType } from '../record-types'
import type { DnsRecord } from '../record'
import { targetName } from '../record'
import { hostOfName, isAtOrBelow, parentOf, type DnsName } from '../name'
import { delegationOf, type Zone } from './zone'

/** What a server of the zone answers. */
export interface LookupAnswer {
  rcode: 'NOERROR' | 'NXDOMAIN' | 'REFUSED' | 'SERVFAIL' | 'YXDOMAIN'
  /** The AA bit. */
  authoritative: boolean
  answer: DnsRecord[]
  authority: DnsRecord[]
  additional: DnsRecord[]
  /** How the answer was come by, one sentence a step. */
  steps: string[]
}

/** A chain of aliases longer than this is given up (common practice). */
const MAX_ALIASES = 16

/**
 * Answers a question from one zone by the algorithm of RFC 1034 §4.3.2, with wildcards as RFC 4592 clarifies them,
 * DNAME as RFC 6672 adds it, and the rcode of an alias chain from its last name (RFC 6604 §3). Follows aliases within
 * the zone only; a resolver follows the rest.
 */
export function lookup(zone: Zone, name: DnsName, type: string): LookupAnswer {
  const view: LookupAnswer = {
    rcode: 'NOERROR',
    authoritative: true,
    answer: [],
    authority: [],
    additional: [],
    steps: [],
  }
  if (!isAtOrBelow(name, zone.origin)) {
    view.steps.push(`${hostOfName(name)} lies outside ${hostOfName(zone.origin)}: refused.`)
    return { ...view, rcode: 'REFUSED', authoritative: false }
  }
  const seen = new Set<DnsName>()
  for (let asked: DnsName | undefined = name; asked !== undefined;) {
    if (seen.has(asked) || seen.size > MAX_ALIASES) {
      view.steps.push(`${hostOfName(asked)} was passed already: the aliases form a loop.`)
      return view
    }
    seen.add(asked)
    asked = lookupOne(zone, asked, type, view)
  }
  return view
}

/** Answers for one name; returns the name to go on with where that was an alias. */
function lookupOne(zone: Zone, name: DnsName, type: string, view: LookupAnswer): DnsName | undefined {
  const cut = delegationOf(zone, name)
  const dname = ancestorWithDname(zone, name)
  // Step 3b: authority ends at a delegation; DS alone is answered from above the cut (RFC 4035 §3.1.4.1).
  if (cut !== undefined && !(type === 'DS' && cut === name) && (dname === undefined || !isAtOrBelow(dname.name, cut))) {
    view.steps.push(`${hostOfName(cut)} is delegated: its own name servers answer.`)
    if (view.answer.length === 0) view.authoritative = false
    view.authority.push(...zone.set(cut, 'NS'))
    for (const server of zone.set(cut, 'NS')) view.additional.push(...addressesOf(zone, targetName(server)!))
    return undefined
  }
  if (dname !== undefined) return substitute(dname, name, view)

  const owner = zone.exists(name) ? name : sourceOfSynthesis(zone, name)
  if (owner === undefined) {
    view.steps.push(`${hostOfName(name)} does not exist in the zone, and no wildcard stands in for it.`)
    view.rcode = 'NXDOMAIN'
    view.authority.push(...zone.set(zone.origin, 'SOA'))
    return undefined
  }
  if (owner !== name)
    view.steps.push(
      `${hostOfName(name)} does not exist; the wildcard ${hostOfName(owner)} stands in for it (RFC 4592).`,
    )
  const named = (records: readonly DnsRecord[]) =>
    records.map((record) => (owner === name ? record : { ...record, name }))
  const alias = zone.set(owner, 'CNAME')
  if (alias.length > 0 && type !== 'CNAME') {
    const target = targetName(alias[0]!)!
    view.answer.push(...named(alias.slice(0, 1)))
    view.steps.push(`${hostOfName(name)} is an alias of ${hostOfName(target)}.`)
    if (isAtOrBelow(target, zone.origin)) return target
    view.steps.push(`${hostOfName(target)} lies in another zone: a resolver goes on there.`)
    return undefined
  }
  const records = zone.set(owner, type)
  if (records.length === 0) {
    view.steps.push(`${hostOfName(name)} exists and has no ${type} record.`)
    view.authority.push(...zone.set(zone.origin, 'SOA'))
    return undefined
  }
  view.answer.push(...named(records))
  view.steps.push(
    `${hostOfName(name)} has ` +
      `${records.length === 1 ? `the ${type} record` : `${records.length} ${type} records`}: ` +
      `${records.map((record) => record.data).join(', ')}.`,
  )
  for (const record of records)
    if (recordType(type)?.bringsAddresses) view.additional.push(...addressesOf(zone, targetName(record)!))
  return undefined
}

function substitute(dname: DnsRecord, name: DnsName, view: LookupAnswer): DnsName | undefined {
  const target = targetName(dname)!
  const front = name.slice(0, -dname.name.length)
  const into = target === '.' ? front : front + target
  view.answer.push(dname)
  if (into.length > 254) {
    view.steps.push(`${hostOfName(dname.name)} is moved to ${hostOfName(target)}, which makes the name too long.`)
    view.rcode = 'YXDOMAIN'
    return undefined
  }
  view.steps.push(`Names below ${hostOfName(dname.name)} are moved to ${hostOfName(target)} (RFC 6672).`)
  view.answer.push({ name, type: 'CNAME', ttl: dname.ttl, data: into })
  return into
}

function ancestorWithDname(zone: Zone, name: DnsName): DnsRecord | undefined {
  for (let at = parentOf(name); at !== undefined && isAtOrBelow(at, zone.origin); at = parentOf(at)) {
    const [dname] = zone.set(at, 'DNAME')
    if (dname) return dname
  }
  return undefined
}

/** The wildcard directly below the closest encloser, where there is one (RFC 4592 §3.3.1). */
function sourceOfSynthesis(zone: Zone, name: DnsName): DnsName | undefined {
  let encloser = parentOf(name)!
  while (!zone.exists(encloser)) {
    const up = parentOf(encloser)
    if (up === undefined || !isAtOrBelow(up, zone.origin)) return undefined
    encloser = up
  }
  const wildcard = encloser === '.' ? '*.' : `*.${encloser}`
  return zone.exists(wildcard) ? wildcard : undefined
}

const addressesOf = (zone: Zone, name: DnsName) => [...zone.set(name, 'A'), ...zone.set(name, 'AAAA')]

/**
 * The wildcard that answers for a name that does not exist itself; it stops doing so once the name does (RFC 4592
 * §2.2.1).
 */
export const wildcardFor = (zone: Zone, name: DnsName): DnsName | undefined =>
  isAtOrBelow(name, zone.origin) && !zone.exists(name) && delegationOf(zone, name) === undefined
    ? sourceOfSynthesis(zone, name)
    : undefined
