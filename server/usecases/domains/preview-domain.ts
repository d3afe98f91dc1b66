import {
  hostOfName,
  intake,
  isAtOrBelow,
  makeZone,
  nameOfHost,
  readSuffix,
  readZone,
  writeZone,
} from '../../../core/dns'
import { showHost } from '../../../core/address'
import type { Preview } from '../../../core/schemas'
import type { Database } from '../../database/open'
import { askZone } from '../../names/ask-zone'
import type { NamesContext } from '../../names/context'
import { discover } from '../../names/discover'
import { addressesOf, fetchPage, NotAsked } from '../../names/reach'
import { refuseHost } from './change-domain'

const TAKES_AWAY = new Set(['website-on-name', 'mail-on-name', 'wildcard-stops', 'delegated'])

/** What a name is today, what bringing it here would take away, and whether a name beside it is the better choice. */
export async function previewDomain(db: Database, names: NamesContext, host: string): Promise<Preview> {
  await refuseHost(db, host, true)
  const suffix = readSuffix(host)
  const registrable = suffix.registrable ?? host
  const name = nameOfHost(host)
  const base = { host, shown: showHost(host), isApex: suffix.isApex, registrable }
  const found = await discover(names, name)
  if (found && !isAtOrBelow(found.origin, nameOfHost(registrable))) {
    const above = found.origin === '.' ? 'the root of all names' : `the zone ${hostOfName(found.origin)}`
    return {
      ...base,
      zone: null,
      today: [`${registrable} is not registered: it would have to stand in ${above}, and nothing stands there.`],
      takenAway: [],
      recommendation:
        'Register it first, then add it. No service is affected. Check the price of each further year, not only ' +
        'of the first.',
      reachable: false,
    }
  }
  const asked = found && (await askZone(names, found, name))
  if (!found || !asked?.ok) {
    const why = asked && !asked.ok ? asked.sentence : `No resolver knows name servers for ${host}.`
    return {
      ...base,
      zone: found ? hostOfName(found.origin) : null,
      today: [why],
      takenAway: [],
      recommendation: 'It can be added anyway; register the name, or import its zone file, to see its records.',
      reachable: false,
    }
  }
  const file = { ...readZone(writeZone(found.origin, asked.records), found.origin), partial: true }
  const zone = makeZone(file.origin, file.records)
  const findings = intake(file, name, '', names.gateway, zone)
  const website = await seeWebsite()
  const takenAway = findings.filter((finding) => TAKES_AWAY.has(finding.kind)).map((finding) => finding.sentence)
  const servers = found.servers.map((server) => server.name).join(' and ')
  const today = [
    `${host} ` +
      `${name === found.origin ? 'is the top of its zone' : `lies in the zone ${hostOfName(found.origin)}`}, ` +
      `served by ${servers}.`,
    ...(website ? [website] : []),
    ...(zone.at(name).length === 0 ? [`No record stands at ${host} today.`] : []),
  ]
  return {
    ...base,
    zone: hostOfName(found.origin),
    today,
    takenAway,
    recommendation: recommend(findings.map((finding) => finding.kind)),
    reachable: true,
  }

  async function seeWebsite(): Promise<string | undefined> {
    const [address] = (await addressesOf(names, host)) ?? []
    if (!address) return undefined
    try {
      const page = await fetchPage(names, address, host, '/')
      return (
        'A website answers on this name: status ' +
        `${page.status}${page.title ? `, “${page.title.slice(0, 120)}”` : ''}` +
        `${page.location ? `, leading to ${page.location.slice(0, 200)}` : ''}, ` +
        `at ${address}.`
      )
    } catch (error) {
      return error instanceof NotAsked
        ? `Its address is ${address}, which is not a public address; nobody asked what answers there.`
        : `Its address is ${address}, and no website answers there: ${(error as Error).message}.`
    }
  }

  function recommend(kinds: readonly string[]): string {
    const used = kinds.includes('website-on-name') || kinds.includes('mail-on-name') || kinds.includes('wildcard-stops')
    if (kinds.includes('already-here')) return 'It leads here already; add it, prove it is yours and open it.'
    if (suffix.isApex && used)
      return (
        `${host} is in use. Better take a sub-domain beside it, like go.${registrable}, which leaves ` +
        'everything as it is, or register a spare domain for short addresses.'
      )
    if (used)
      return (
        `${host} is in use. Choose another sub-domain of ${registrable} that is free, so that no service is ` +
        'affected.'
      )
    return suffix.isApex
      ? `${host} leads nowhere today: a separate short domain is the best choice. It needs address records, ` +
          'because a zone apex cannot have a CNAME.'
      : `${host} leads nowhere today, and ${registrable} goes on as it is beside it. It takes one CNAME record.`
  }
}
