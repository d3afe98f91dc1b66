import {
  hostOfName,
  isAtOrBelow,
  MAX_FAULTS,
  nameOfHost,
  parentOf,
  readSoa,
  readSuffix,
  soaFits,
  writeZone,
  type DnsName,
} from '../../../core/dns'
import type { TsigKey } from '../../../core/dns/wire'
import type { ZoneView } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { DomainModel } from '../../database/models/domain'
import type { DomainZoneModel } from '../../database/models/domain-zone'
import { askZone } from '../../names/ask-zone'
import { ask, type ServerAddress } from '../../names/ask'
import type { NamesContext } from '../../names/context'
import { discover } from '../../names/discover'
import { transferZone } from '../../names/transfer'
import { inChildIfLong } from '../../threads/in-child'
import type { Input, Output } from '../../threads/work'
import { runChange, type Actor } from '../ledger/change'
import { fieldProblem, Problem } from '../problem'
import { readBroughtZone, toZoneView } from './domain-zone'
import { findDomain } from './find-domain'
import { wayOf } from './server-way'
import { readUpdateKey } from './update-key'

/** A zone file larger than this is not taken; the largest hosting providers' exports are far smaller. */
export const MAX_ZONE_OCTETS = 4_000_000

const octetsOf = (text: string) => Buffer.from(text, 'latin1')

/**
 * Takes the zone a domain lies in, as a master file (text/dns, RFC 4027). A file in which any line cannot be read is
 * refused whole, with each such line named.
 */
export async function putZone(
  db: Database,
  names: NamesContext,
  actor: Actor,
  id: number,
  octets: Buffer,
): Promise<ZoneView> {
  const domain = await findDomain(db, id)
  const text = readText(octets)
  const read = <Name extends 'zone-origin' | 'read-zone'>(work: Name, input: Input<Name>) =>
    inChildIfLong(text.length, work, input, {
      what: 'Reading the zone file',
      instead: 'Cut it down to the records around the domain’s name.',
    })
  const told = await read('zone-origin', { text, host: domain.host })
  const origin = told.inFile ?? (await originOf(db, names, domain, told))
  const file = await read('read-zone', { text, origin })
  if (file.faults.length > 0) {
    const errors = file.faults.map((fault) => ({ pointer: '/zone', detail: fault.sentence }))
    throw new Problem(
      422,
      'The zone file cannot be read',
      errors
        .slice(0, 3)
        .map((fault) => fault.detail)
        .join(' ') + (errors.length < MAX_FAULTS ? '' : ` Reading stopped after ${MAX_FAULTS} faults.`),
      errors,
    )
  }
  if (file.soaName !== undefined && !isAtOrBelow(nameOfHost(domain.host), file.soaName))
    throw fieldProblem(
      'zone',
      `This is the zone of ${hostOfName(file.soaName)}, and ${domain.host} does not lie in it. Bring the zone ` +
        `that holds ${domain.host}.`,
    )
  if (file.records === 0)
    throw fieldProblem('zone', 'The zone file holds no records. Paste or upload it whole, as the provider exports it.')
  return keepZone(db, names, actor, domain, { origin: file.origin, text, source: 'file', toldBy: '' })
}

/** A body as text, one character an octet, or a refusal that says why it is none. */
function readText(octets: Buffer): string {
  if (octets.length > MAX_ZONE_OCTETS)
    throw new Problem(
      413,
      'Too large',
      `The zone file is larger than ${MAX_ZONE_OCTETS / 1e6} MB, which is the most that is taken. Cut it ` +
        'down to the records around the domain’s name.',
      [{ pointer: '/zone', detail: `At most ${MAX_ZONE_OCTETS / 1e6} MB.` }],
    )
  const text = octets.toString('latin1').replace(/^\u00EF\u00BB\u00BF/, '')
  // eslint-disable-next-line no-control-regex
  const odd = /[\u0000-\u0008\u000B\u000E-\u001F\u007F]/.exec(text)
  if (odd) {
    const line = text.slice(0, odd.index).split('\n').length
    throw fieldProblem(
      'zone',
      `Not a zone file: line ${line} contains the byte ` +
        `0x${odd[0].charCodeAt(0).toString(16).padStart(2, '0')}, which no text has. Give the zone as plain ` +
        'text, as name servers read it.',
    )
  }
  if (text.trim() === '')
    throw fieldProblem('zone', 'The zone file is empty. Paste or upload it whole, as the provider exports it.')
  return text
}

/**
 * The zone a file that does not say it is of: the one whose SOA it has, of the zone the name lies in and the one above;
 * else the one in which its owners make the name; else the zone the name lies in.
 */
async function originOf(
  db: Database,
  names: NamesContext,
  domain: DomainModel,
  { soa: written, byNames }: Output<'zone-origin'>,
): Promise<DnsName> {
  const guess = await guessOrigin(db, names, domain)
  if (written) {
    const above = parentOf(guess)
    const parent = above && above !== '.' ? (await discover(names, above))?.origin : undefined
    for (const origin of [guess, ...(parent && parent !== '.' ? [parent] : [])])
      for (const resolver of names.resolvers) {
        const asked = await ask(resolver, origin, 'SOA', { recursive: true })
        const live =
          asked.ok && asked.message.answer.find(({ type, name: owner }) => type === 'SOA' && owner === origin)
        if (!live) continue
        const { primary, mailbox } = readSoa(live)
        if (soaFits(written, origin, primary, mailbox)) return origin
        break
      }
  }
  return byNames ?? guess
}

async function guessOrigin(db: Database, names: NamesContext, domain: DomainModel): Promise<DnsName> {
  const watch = await db.DomainWatch.findByPk(domain.id)
  if (watch?.zoneOrigin) return watch.zoneOrigin
  const name = nameOfHost(domain.host)
  return (await discover(names, name))?.origin ?? nameOfHost(readSuffix(domain.host).registrable ?? domain.host)
}

/** Keeps a zone, with its entry in the ledger; what was pushed before counts anew from it. */
async function keepZone(
  db: Database,
  names: NamesContext,
  actor: Actor,
  domain: DomainModel,
  input: { origin: DnsName; text: string; source: DomainZoneModel['source']; toldBy: string },
): Promise<ZoneView> {
  await runChange(db, actor, async (change) => {
    const { transaction } = change
    await db.DomainZone.upsert(
      {
        domainId: domain.id,
        origin: input.origin,
        text: octetsOf(input.text),
        pushedText: null,
        source: input.source,
        toldBy: input.toldBy,
        readAt: change.now,
      },
      { transaction },
    )
    await db.DomainWatch.upsert(
      { domainId: domain.id, dueAt: change.now, zoneOrigin: input.origin },
      { transaction, fields: ['dueAt', 'zoneOrigin'] },
    )
    await change.record({
      action: 'read-zone',
      subject: { kind: 'domain', id: domain.id, label: domain.host },
      before: null,
      after: {
        origin: hostOfName(input.origin),
        source: input.source,
        toldBy: input.toldBy,
        octets: input.text.length,
      },
    })
  })
  return toZoneView(domain, (await readBroughtZone(db, domain.id))!, names)
}

export interface TransferGiven {
  server?: string
  key?: { name: DnsName; secret: string }
}

/** Takes the zone from a name server (AXFR), with the given key, else the domain's own, else none. */
export async function takeZone(
  db: Database,
  names: NamesContext,
  actor: Actor,
  id: number,
  input: TransferGiven,
): Promise<ZoneView> {
  const domain = await findDomain(db, id)
  const own = await readUpdateKey(db, names, domain)
  const key: TsigKey | undefined = input.key
    ? { name: input.key.name, secret: Buffer.from(input.key.secret, 'base64') }
    : own?.key
  const origin = await guessOrigin(db, names, domain)
  const servers = input.server
    ? [{ label: input.server, way: wayOf(names, input.server) }]
    : own && !input.key
      ? [{ label: own.server, way: wayOf(names, own.server) }]
      : await knownServers(db, names, domain)
  if (servers.length === 0)
    throw fieldProblem(
      'server',
      `No name server of ${hostOfName(origin)} is known. Give the address of one, like 192.0.2.53.`,
    )
  const sentences: string[] = []
  for (const { label, way } of servers) {
    const taken = await transferZone(way, origin, key)
    if (taken.ok)
      return keepZone(db, names, actor, domain, {
        origin,
        text: writeZone(origin, taken.records),
        source: 'transfer',
        toldBy: label,
      })
    sentences.push(taken.sentence)
  }
  throw fieldProblem('server', sentences[0]!)
}

async function knownServers(
  db: Database,
  names: NamesContext,
  domain: DomainModel,
): Promise<{ label: string; way: ServerAddress }[]> {
  const watch = await db.DomainWatch.findByPk(domain.id)
  const servers =
    watch && watch.servers.length > 0
      ? watch.servers
      : ((await discover(names, nameOfHost(domain.host)))?.servers ?? [])
  return servers.map((server) => ({ label: `${server.name} (${server.address})`, way: names.way(server.address, 53) }))
}

/** Asks the name servers for what can be seen of the zone, and keeps that where no zone was brought. */
export async function askForZone(db: Database, names: NamesContext, actor: Actor, id: number): Promise<ZoneView> {
  const domain = await findDomain(db, id)
  const name = nameOfHost(domain.host)
  const found = await discover(names, name)
  if (!found)
    throw new Problem(
      502,
      'No name server was found',
      `No resolver (${resolverNames(names)}) knows name servers for ${domain.host}. Is the name ` +
        'registered? Bring the zone file if you have it.',
    )
  const asked = await askZone(names, found, name)
  if (!asked.ok) throw new Problem(502, 'The name servers do not answer', asked.sentence)
  return keepZone(db, names, actor, domain, {
    origin: found.origin,
    text: writeZone(found.origin, asked.records),
    source: 'asked',
    toldBy: asked.toldBy,
  })
}

const resolverNames = (names: NamesContext) =>
  names.resolvers.map((resolver) => resolver.name).join(', ') || 'none is set'
