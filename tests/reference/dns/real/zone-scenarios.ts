import { writeFileSync } from 'node:fs'
import { join } from 'node:path'
import {
  intake,
  lookup,
  makeZone,
  readZone,
  switchPlan,
  writeZone,
  zoneAfter,
  type DnsRecord,
  type GatewayFacts,
  type Zone,
  type ZoneFinding,
} from '../../../../core/dns'
import type { RecordChange } from '../../../../core/dns/wire'
import type { ServerAddress } from '../../../../server/names/ask'
import { askZone } from '../../../../server/names/ask-zone'
import type { NamesContext } from '../../../../server/names/context'
import { transferZone } from '../../../../server/names/transfer'
import { pushChange } from '../../../../server/names/update'
import { dig, digMany } from '../bind'
import { KEY } from './programs'
import { note } from './table'
import type { Maker, ZoneScenario } from './zones'

const GATEWAY: GatewayFacts = {
  name: 'links.front.example.',
  ipv4: ['192.0.2.80'],
  ipv6: ['2001:db8::80'],
  issuers: ['ca.example'],
}
const SERVER = '192.0.2.1'
/** Findings that tell how a zone was read, or of it as a whole: they are judged by being expected. */
const READING = new Set(['not-seen'])

/**
 * Asks a server until it answers as meant, for a second: one of several threads takes a moment until each of them
 * answers from the zone it just acknowledged.
 */
async function again<Told>(ask: () => Promise<Told>, isMeant: (told: Told) => boolean): Promise<Told> {
  for (let tries = 0; ; tries++) {
    const told = await ask()
    if (isMeant(told) || tries === 20) return told
    await new Promise((resolve) => setTimeout(resolve, 50))
  }
}

/** Names as a context that reaches one server alone. */
const contextOf = (server: ServerAddress): NamesContext =>
  ({
    gateway: GATEWAY,
    resolvers: [],
    way: (host: string, port: number) => (host === SERVER ? server : { host, port }),
  }) as unknown as NamesContext

const plainOf = (records: readonly DnsRecord[]) =>
  records
    .filter(
      ({ type }) =>
        !['SOA', 'RRSIG', 'NSEC', 'NSEC3', 'NSEC3PARAM', 'CDS', 'CDNSKEY', 'DNSKEY', 'TYPE65534'].includes(type),
    )
    .map(({ name, ttl, type, data }) => `${name} ${ttl} ${type} ${data}`)
    .sort()

/** What dig shows of sets, in Fides's own form. */
async function digSets(
  server: ServerAddress,
  questions: readonly (readonly [string, string])[],
): Promise<{ rcode: string; answer: string[] }[]> {
  return (await digMany(server.port, questions)).map((told) => {
    const read = readZone(told.answer.join('\n'), '.')
    if (read.faults.length > 0) throw new Error(`${told.answer.join('\n')}\n${read.faults[0]!.sentence}`)
    return { rcode: told.rcode, answer: plainOf(read.records) }
  })
}
const digSet = async (server: ServerAddress, name: string, type: string) => (await digSets(server, [[name, type]]))[0]!

/** Plays one scenario at one maker's server; every statement becomes a line of the table. */
export async function playZone(
  scenario: ZoneScenario,
  maker: Maker,
  server: ServerAddress,
  origin: string,
): Promise<boolean> {
  let sound = true
  const say = (says: string, does: string, holds: boolean) => {
    sound = note({ scenario: scenario.name, world: maker, says, does, verdict: holds ? 'true' : 'false' }) && sound
  }
  const at = (name: string) => (name === '@' ? origin : `${name}.${origin}`)
  const name = at(scenario.host)
  const probes: [string, string][] = [
    ...['A', 'AAAA', 'CNAME', 'MX', 'TXT'].map((type): [string, string] => [name, type]),
    [`_fides.${name}`, 'TXT'],
    ...(scenario.probes ?? []).map(([owner, type]): [string, string] => [at(owner), type]),
  ]

  const taken = await transferZone(server, origin, KEY)
  if (!taken.ok) {
    say(taken.sentence, 'it has the zone', false)
    return false
  }
  const zone = makeZone(origin, taken.records)
  await agree(zone, 'as it was taken over')

  // What a file written and read again says is the same zone.
  const file = readZone(writeZone(origin, taken.records), origin)
  say(
    `${taken.records.length} records in the file`,
    `${file.records.length} read again, ${file.faults.length} faults`,
    file.faults.length === 0 && plainOf(file.records).join() === plainOf(taken.records).join(),
  )

  const found = intake(file, name, 'token', GATEWAY, zone)
  const kinds = kindsOf(found)
  say(
    `finds ${kinds.join(', ') || 'nothing'}`,
    `expected ${[...scenario.finds].sort().join(', ') || 'nothing'}`,
    kinds.join() === [...scenario.finds].sort().join(),
  )
  for (const finding of found) await judge(finding)

  const plan = switchPlan(zone, name, 'token', GATEWAY)
  await compareAsked()
  say(
    plan.blocked ?? 'there is a plan',
    scenario.blocked ? 'blocked' : 'free',
    (plan.blocked !== undefined) === (scenario.blocked ?? false),
  )
  if (plan.blocked !== undefined) return sound

  const hadVisitors = (await digSet(server, name, 'A')).answer.length > 0
  let now = zone
  const done: RecordChange[] = []
  let serverSigns = false
  for (const step of plan.steps) {
    if (step.add.length + step.remove.length === 0) continue
    const pushed = await pushChange(server, now, step, KEY, { serverSigns })
    say(`${step.key} is taken`, pushed.ok ? 'taken' : pushed.sentence, pushed.ok)
    if (!pushed.ok) return false
    serverSigns ||= pushed.signs ?? false
    now = zoneAfter(now, step)
    done.push(step)
    await agree(now, `after ${step.key}`)
    if (!hadVisitors) continue
    const visitors = await again(
      async () => (await digSet(server, name, 'A')).answer,
      ({ length }) => length > 0,
    )
    say(`visitors are led somewhere after ${step.key}`, visitors.join('; ') || 'nowhere', visitors.length > 0)
  }
  for (const step of [...done].reverse()) {
    const back: RecordChange = { remove: step.add, add: step.remove }
    const pushed = await pushChange(server, now, back, KEY, { serverSigns })
    say('undoing is taken', pushed.ok ? 'taken' : pushed.sentence, pushed.ok)
    now = zoneAfter(now, back)
  }
  // A large zone on a busy machine can take longer than one transfer may.
  const after = await again(
    () => transferZone(server, origin, KEY),
    ({ ok }) => ok,
  )
  const same = after.ok && plainOf(after.records).join('\n') === plainOf(taken.records).join('\n')
  const seen = after.ok ? (same ? 'the same records' : 'other records') : after.sentence
  say('undone, the zone is what it was', seen, same)
  return sound

  function kindsOf(findings: readonly ZoneFinding[]): string[] {
    return [...new Set(findings.map(({ kind }) => kind))].filter((kind) => !READING.has(kind)).sort()
  }

  /** Every probe is answered as the look-up in the zone says. */
  async function agree(in_: Zone, when: string): Promise<void> {
    const wrong = await again(
      async () => differences(in_, await digSets(server, probes)),
      ({ length }) => length === 0,
    )
    say(`${probes.length} questions answered so, ${when}`, wrong.join(' — ') || 'the same', wrong.length === 0)
  }

  function differences(in_: Zone, seenAll: Awaited<ReturnType<typeof digSets>>): string[] {
    const wrong: string[] = []
    for (const [index, [owner, type]] of probes.entries()) {
      const mine = lookup(in_, owner, type)
      const theirs = seenAll[index]!
      const said = [mine.rcode, ...plainOf(mine.answer)].join('; ')
      const seen = [theirs.rcode, ...theirs.answer].join('; ')
      if (said !== seen) wrong.push(`${owner} ${type}: ${said} / ${seen}`)
    }
    return wrong
  }

  /** Whether what a finding says is so, by the server's own answers. */
  async function judge(finding: ZoneFinding): Promise<void> {
    const { kind, sentence } = finding
    const first = sentence.slice(0, 90)
    switch (kind) {
      case 'website-on-name': {
        const a = [...(await digSet(server, name, 'A')).answer, ...(await digSet(server, name, 'AAAA')).answer]
        return say(first, a.join('; ') || 'no address', a.length > 0)
      }
      case 'wildcard-stops': {
        const own = await digSet(server, name, finding.type)
        const below = await digSet(server, `x.*.${name}`, finding.type)
        return say(first, own.answer.join('; '), own.answer.length > 0 && own.answer.length === below.answer.length)
      }
      case 'mail-on-name': {
        const mx = await digSet(server, name, 'MX')
        return say(first, mx.answer.join('; ') || 'no MX', mx.answer.length > 0)
      }
      case 'delegated': {
        const told = await dig(server.port, name, 'A')
        return say(
          first,
          told.authority.join('; '),
          !told.flags.includes('aa') && told.authority.some((line) => line.includes(' NS ')),
        )
      }
      case 'dangling-cname': {
        const told = await dig(server.port, name, 'A')
        return say(first, told.rcode, told.rcode === 'NXDOMAIN')
      }
      case 'caa-shuts-out': {
        const caa = await digSet(server, origin, 'CAA')
        return say(
          first,
          caa.answer.join('; '),
          caa.answer.length > 0 && !caa.answer.some((line) => line.includes('ca.example')),
        )
      }
      case 'signed-zone': {
        const signed = await dig(server.port, name === origin ? origin : `ns1.${origin}`, 'A', '+dnssec')
        return say(
          first,
          `${signed.answer.filter((line) => line.includes(' RRSIG ')).length} signatures`,
          signed.answer.some((line) => line.includes(' RRSIG ')),
        )
      }
      default:
        return
    }
  }

  /** The zone asked for name by name must claim nothing that the whole one does not, and lead to the same plan. */
  async function compareAsked(): Promise<void> {
    const names = contextOf(server)
    const asked = await askZone(names, { origin, servers: [{ name: `ns1.${origin}`, address: SERVER }] }, name)
    if (!asked.ok) return say(asked.sentence, 'it answers', false)
    const part = { ...readZone(writeZone(origin, asked.records), origin), partial: true }
    const partial = makeZone(origin, part.records)
    const claims = kindsOf(intake(part, name, 'token', GATEWAY, partial))
    const untrue = claims.filter((kind) => !kinds.includes(kind))
    say(
      `asked name by name: ${claims.join(', ') || 'nothing'}`,
      untrue.length > 0 ? `untrue: ${untrue.join(', ')}` : 'as in the whole zone',
      untrue.length === 0,
    )
    if (plan.blocked !== undefined) return
    const other = switchPlan(partial, name, 'token', GATEWAY)
    const shape = (of: typeof plan) =>
      [of.needed.use, of.oldTtl, of.negativeTtl, of.needed.wildcard ?? '', ...plainOf(of.needed.replaced)].join('; ')
    // Types nobody asks for by name stand beside no alias; the whole zone shows them.
    const hidden = zone.at(name).some(({ type }) => ['LOC', 'NAPTR', 'SSHFP', 'TYPE65280'].includes(type))
    if (!hidden)
      say(`plan of the asked zone: ${shape(other)}`, `of the whole: ${shape(plan)}`, shape(other) === shape(plan))
  }
}

/** Puts what `$INCLUDE` names beside the zones. */
export const putIncluded = (text: string) => (folder: string) => writeFileSync(join(folder, 'further.inc'), text)
