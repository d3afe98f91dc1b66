import { LRUCache } from 'lru-cache'
import {
  hostOfName,
  makeZoneInSteps,
  readZoneInSteps,
  type DnsName,
  type DnsRecord,
  type Zone,
  type ZoneFile,
  type ZoneFinding,
} from '../../../core/dns'
import type { ZoneFindingView, ZoneView } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { DomainModel } from '../../database/models/domain'
import type { DomainZoneModel } from '../../database/models/domain-zone'
import type { NamesContext } from '../../names/context'
import { inChildIfLong } from '../../threads/in-child'
import { inSteps, yielder } from '../yield-to-event-loop'

/** A domain with its zone as it was brought. */
export interface BroughtZone {
  row: DomainZoneModel
  file: ZoneFile
  zone: Zone
}

type ReadZone = Pick<BroughtZone, 'file' | 'zone'>

/** Zones read lately, or being read: a page asks for its plan again and again, and a zone may be large. */
const lately = new LRUCache<string, Promise<ReadZone>>({ max: 8 })
const foundLately = new LRUCache<string, Promise<ZoneFinding[]>>({ max: 32 })

/** What is worked out once for a key; what fails is worked out anew. */
function once<Value>(cache: LRUCache<string, Promise<Value>>, key: string, work: () => Promise<Value>): Promise<Value> {
  const known = cache.get(key)
  if (known) return known
  const value = work()
  cache.set(key, value)
  value.catch(() => cache.delete(key))
  return value
}

const versionOf = (row: DomainZoneModel) => `${row.domainId} ${row.readAt.getTime()} ${row.text.length}`

async function readInSteps(text: string, origin: DnsName, partial: boolean): Promise<ReadZone> {
  const yieldNow = yielder()
  const file = { ...(await inSteps(readZoneInSteps(text, origin), yieldNow)), partial }
  return { file, zone: await inSteps(makeZoneInSteps(file.origin, file.records), yieldNow) }
}

/** The zone a domain's owner brought, or what was asked of its name servers; `undefined` where neither is there yet. */
export async function readBroughtZone(db: Database, domainId: number): Promise<BroughtZone | undefined> {
  const row = await db.DomainZone.findByPk(domainId)
  if (!row) return undefined
  const read = () => readInSteps(row.text.toString('latin1'), row.origin, row.source === 'asked')
  return { row, ...(await once(lately, versionOf(row), read)) }
}

/** The zone as our own pushes left it. */
export async function pushedZone({ row, file, zone }: BroughtZone): Promise<ReadZone> {
  return row.pushedText === null ? { file, zone } : readInSteps(row.pushedText.toString('latin1'), row.origin, false)
}

/** A record as the API tells it: its name without the last dot. */
export const toRecordView = (record: DnsRecord) => ({ ...record, name: hostOfName(record.name) })
export const toFindingView = (finding: ZoneFinding): ZoneFindingView => ({ ...finding, name: hostOfName(finding.name) })

/** Everything found in a brought zone for a domain; where the zone was only asked for, that is said too. */
export async function findingsOf(
  domain: DomainModel,
  { row, zone }: BroughtZone,
  names: NamesContext,
): Promise<ZoneFinding[]> {
  const partial = row.source === 'asked'
  const asked = { host: domain.host, proofToken: domain.proofToken, gateway: names.gateway, partial }
  const view = await once(foundLately, `${versionOf(row)} ${JSON.stringify(asked)}`, () =>
    inChildIfLong(
      row.text.length,
      'zone-findings',
      { ...asked, text: row.text.toString('latin1'), origin: row.origin },
      { what: 'Looking through the zone', instead: 'Bring the part of it around the domain’s name.' },
    ),
  )
  if (!partial) return view
  const unseen: ZoneFinding = {
    kind: 'not-seen',
    severity: 'notice',
    name: zone.origin,
    type: '',
    sentence:
      `This is what the name server ${row.toldBy} says when asked, not the whole zone. Bring the zone ` +
      'file, or have it transferred, to see all that a change touches.',
  }
  return [unseen, ...view]
}

export async function toZoneView(domain: DomainModel, brought: BroughtZone, names: NamesContext): Promise<ZoneView> {
  const { row, zone } = brought
  return {
    origin: hostOfName(zone.origin),
    records: zone.records.length,
    source: row.source,
    toldBy: row.toldBy,
    readAt: row.readAt.toISOString(),
    findings: (await findingsOf(domain, brought, names)).map(toFindingView),
  }
}
