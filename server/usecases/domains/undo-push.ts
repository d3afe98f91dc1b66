import { makeZone, nameOfHost, readZone, recordKey, recordSets, type DnsRecord } from '../../../core/dns'
import type { LedgerEntry } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { LedgerEntryModel } from '../../database/models/ledger-entry'
import type { NamesContext } from '../../names/context'
import type { Actor } from '../ledger/change'
import { findDomain } from './find-domain'
import { refuseUndo, toEntryView } from '../ledger/list-ledger'
import { Problem } from '../problem'
import { liveSets, needKey, placeRecords } from './push-records'

const read = (lines: unknown, origin: string): DnsRecord[] =>
  readZone((lines as string[]).map((line) => line.replace(/^(\S+)/, '$1.') + '\n').join(''), origin).records

/**
 * Takes back records that were placed: those it added go, those it took come back, over what the name server gives
 * now. Refused where a set no longer holds what was placed, unless `overwrite` says to go ahead.
 */
export async function undoPush(
  db: Database,
  names: NamesContext,
  actor: Actor,
  entry: LedgerEntryModel,
  request: { overwrite: boolean; reason?: string },
): Promise<LedgerEntry> {
  await refuseUndo(db, actor, entry)
  const domain = await findDomain(db, entry.subjectId)
  const origin = nameOfHost(String(entry.afterState!.origin))
  const [added, removed] = [read(entry.afterState!.records, origin), read(entry.beforeState!.records, origin)]
  const opened = await needKey(db, names, domain)
  const there = await liveSets(names, opened, recordSets([...added, ...removed]))
  if (!there) throw new Problem(502, 'Not undone', `${opened.server} does not answer for ${domain.host}.`)
  const placed = new Set(makeZone(origin, there).records.map(recordKey))
  const lost = added.filter((record) => !placed.has(recordKey(record)))
  if (lost.length > 0 && !request.overwrite) {
    throw new Problem(
      409,
      'Would overwrite a later change',
      `Since then ${lost.map((record) => `${record.type} ${record.data}`).join(', ')} went from the zone ` +
        `of ${domain.host}. Undoing this would overwrite the later change.`,
      [],
      { fields: ['records'], later: [] },
    )
  }
  const { entryId, problem } = await placeRecords(
    db,
    names,
    actor,
    domain,
    opened,
    origin,
    there,
    { add: removed, remove: added },
    'undo',
    { entryId: entry.id, reason: request.reason },
  )
  if (problem) throw problem
  await entry.update({ undoneById: entryId })
  await db.DomainZone.update({ pushedText: null }, { where: { domainId: domain.id } })
  return toEntryView(db, (await db.LedgerEntry.findByPk(entryId))!)
}
