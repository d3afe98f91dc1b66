import { LRUCache } from 'lru-cache'
import {
  hostOfName,
  intake,
  makeZone,
  nameOfHost,
  readZone,
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

/** A domain with its zone as it was brought. */
export interface BroughtZone {
  row: DomainZoneModel
  file: ZoneFile
  zone: Zone
}

/** Zones read lately: a page asks for its plan again and again, and a zone may be large. */
const lately = new LRUCache<string, { file: ZoneFile; zone: Zone }>({ max: 8 })
const found = new WeakMap<ZoneFile, ZoneFinding[]>()

function readOnce(row: DomainZoneModel): { file: ZoneFile; zone: Zone } {
  const key = `${row.domainId} ${row.readAt.getTime()} ${row.text.length}`
  const known = lately.get(key)
  if (known) return known
  const file = { ...readZone(row.text.toString('latin1'), row.origin), partial: row.source === 'asked' }
  const kept = { file, zone: makeZone(file.origin, file.records) }
  lately.set(key, kept)
  return kept
}

/** The zone a domain's owner brought, or what was asked of its name servers; `undefined` where neither is there yet. */
export async function readBroughtZone(db: Database, domainId: number): Promise<BroughtZone | undefined> {
  const row = await db.DomainZone.findByPk(domainId)
  if (!row) return undefined
  return { row, ...readOnce(row) }
}

/** The zone as our own pushes left it. */
export function pushedFile({ row, file }: BroughtZone): ZoneFile {
  return row.pushedText === null ? file : readZone(row.pushedText.toString('latin1'), row.origin)
}

/** A record as the API tells it: its name without the last dot. */
export const toRecordView = (record: DnsRecord) => ({ ...record, name: hostOfName(record.name) })
export const toFindingView = (finding: ZoneFinding): ZoneFindingView => ({ ...finding, name: hostOfName(finding.name) })

/** Everything found in a brought zone for a domain; where the zone was only asked for, that is said too. */
export function findingsOf(domain: DomainModel, { row, file, zone }: BroughtZone, names: NamesContext): ZoneFinding[] {
  const view = found.get(file) ?? intake(file, nameOfHost(domain.host), domain.proofToken, names.gateway, zone)
  found.set(file, view)
  if (row.source !== 'asked') return view
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

export function toZoneView(domain: DomainModel, brought: BroughtZone, names: NamesContext): ZoneView {
  const { row, zone } = brought
  return {
    origin: hostOfName(zone.origin),
    records: zone.records.length,
    source: row.source,
    toldBy: row.toldBy,
    readAt: row.readAt.toISOString(),
    findings: findingsOf(domain, brought, names).map(toFindingView),
  }
}
