import { hostOfName, isAtOrBelow, type DnsName } from '../name'
import { targetName, type DnsRecord } from '../record'
import { zoneFaults } from '../zone/faults'
import { recordType } from '../record-types'
import { wildcardFor } from '../zone/lookup'
import type { ZoneFile } from '../zone/read'
import { delegationOf, makeZone, type Zone } from '../zone/zone'
import { LOW_TTL, type GatewayFacts } from './facts'
import type { ZoneFinding } from './findings'
import { neededRecords } from './needed'

const list = (records: readonly DnsRecord[]) =>
  records
    .map((record) =>
      record.type === 'MX'
        ? hostOfName(targetName(record)!)
        : record.type === 'CNAME'
          ? hostOfName(record.data)
          : record.data,
    )
    .join(', ')
const time = (seconds: number) =>
  seconds >= 7200 ? `${Math.round(seconds / 360) / 10} hours` : `${Math.round(seconds / 60)} minutes`

/**
 * Everything found on the way in: the zone's own faults, and what bringing `name` here would meet or take away
 * (semantics §4). Each statement is worked out by looking names up in the zone, before and after.
 */
export function intake(
  file: ZoneFile,
  name: DnsName,
  token: string,
  gateway: GatewayFacts,
  zone: Zone = makeZone(file.origin, file.records),
): ZoneFinding[] {
  const found = zoneFaults(file, zone)
  const add = (
    severity: ZoneFinding['severity'],
    kind: ZoneFinding['kind'],
    type: string,
    sentence: string,
    at = name,
  ) => found.push({ kind, severity, name: at, type, sentence })
  const host = hostOfName(name)
  if (!isAtOrBelow(name, zone.origin)) {
    add(
      'fatal',
      'name-outside',
      '',
      `${host} does not lie in the zone ${hostOfName(zone.origin)}; bring the zone that holds it.`,
    )
    return found
  }
  const cut = delegationOf(zone, name)
  if (cut !== undefined) {
    const servers = list(zone.set(cut, 'NS').map((record) => ({ ...record, data: hostOfName(record.data) })))
    add(
      'warning',
      'delegated',
      'NS',
      `${hostOfName(cut)} is delegated to ${servers}: records for ${host} must be placed in that zone, not ` +
        `in ${hostOfName(zone.origin)}.`,
      cut,
    )
    return found
  }
  const needed = neededRecords(zone, name, token, gateway)
  const addresses = needed.replaced.filter((record) => ['A', 'AAAA', 'CNAME'].includes(record.type))
  if (addresses.length > 0)
    add(
      'warning',
      'website-on-name',
      addresses[0]!.type,
      `Visitors of ${host} are led to ${list(addresses)} today. After the switch what answers there can no longer ` +
        `be reached under ${host}.`,
    )
  const pointsHere = needed.pointing.every((wish) =>
    zone.set(name, wish.type).some((record) => record.data === wish.data),
  )
  if (pointsHere && needed.pointing.length > 0)
    add('notice', 'already-here', needed.pointing[0]!.type, `${host} leads to the gateway already.`)
  const mail = zone.set(name, 'MX')
  if (mail.length > 0)
    add(
      'warning',
      'mail-on-name',
      'MX',
      `Mail is delivered here: ${host} has the mail server ${list(mail)}. A CNAME would stop that; the ` +
        'plan uses address records and keeps the MX records as they are.',
    )
  const wildcard = wildcardFor(zone, name)
  if (wildcard !== undefined) {
    const stands = zone.at(wildcard).filter(({ type }) => !recordType(type)?.signer)
    const loses = [...new Set(stands.map((record) => record.type))]
    add(
      'warning',
      'wildcard-stops',
      loses[0] ?? '',
      `Today the wildcard ${hostOfName(wildcard)} answers for ${host} with ${loses.join(', ')} ` +
        `(${list(stands)}). Once ${host} exists the wildcard stops applying to it, for every type ` +
        '(RFC 4592 §2.2.1). That is at the switch: the plan places the ownership record in one with it, and undoing ' +
        'the switch gives the wildcard back.',
      wildcard,
    )
    if (zone.set(wildcard, 'MX').length > 0)
      add(
        'warning',
        'mail-on-name',
        'MX',
        `Mail for ${host} is delivered through the wildcard ${hostOfName(wildcard)} today ` +
          `(${list(zone.set(wildcard, 'MX'))}); it stops once the name exists.`,
        wildcard,
      )
  }
  if (!needed.caaVerdict.allowed)
    add('warning', 'caa-shuts-out', 'CAA', needed.caaVerdict.sentence, needed.caaVerdict.owner)
  if (needed.use === 'addresses' && (gateway.ipv4.length === 0 || gateway.ipv6.length === 0)) {
    const [has, lacks] = gateway.ipv4.length > 0 ? ['IPv4', 'IPv6'] : ['IPv6', 'IPv4']
    const had =
      zone.set(name, lacks === 'IPv6' ? 'AAAA' : 'A').length > 0 ? ` ${host} has an ${lacks} address today.` : ''
    add(
      'notice',
      'one-family',
      lacks === 'IPv6' ? 'AAAA' : 'A',
      `The gateway has ${has} addresses only: visitors with ${lacks} alone cannot reach it.${had}`,
    )
  }
  const longest = Math.max(0, ...needed.replaced.map((record) => record.ttl))
  if (longest > LOW_TTL)
    add(
      'notice',
      'long-ttl',
      addresses[0]?.type ?? 'A',
      `The old record’s TTL is ${longest.toLocaleString('en')} s: after the switch visitors could be led ` +
        `to the old place for ${time(longest)}. The plan lowers it first.`,
    )
  return found
}
