import type { Server } from 'node:http'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { makeZone, switchPlan } from '../../../../core/dns'
import { transferZone } from '../../../../server/names/transfer'
import { pushChange } from '../../../../server/names/update'
import { dig } from '../bind'
import { Desk, namesOf, startFront, type Ways } from './desk'
import { KEY, startCachingNamed, startKnot, startNamed, startUnbound, type Program, type Served } from './programs'
import { signZone } from './signed'
import { note, writeTable } from './table'

const TOP = `$TTL 60
@ SOA ns1 hostmaster ( 7 7200 900 1209600 60 )
@ NS ns1
ns1 A 192.0.2.1
go 60 CNAME links.front.example.
_fides.go TXT "fides=token"
`
const originOf = (zone: string) => `${zone}.example.`
const programs: Program[] = []
let desk: Desk
let front: Server
const keep = async (program: Promise<Program>): Promise<Program> => {
  programs.push(await program)
  return programs.at(-1)!
}

beforeAll(async () => {
  const served: Record<string, Served> = {
    'front.example.': { text: '$TTL 60\n@ SOA ns1 h 1 5 5 60 5\n@ NS ns1\nns1 A 192.0.2.1\nlinks A 192.0.2.80\n' },
  }
  const zones = {
    sound: signZone('sound.example.', TOP),
    hashed: signZone('hashed.example.', TOP, { nsec3: true }),
    ended: signZone('ended.example.', TOP, { begins: -9 * 86_400, ends: -2 * 86_400 }),
    early: signZone('early.example.', TOP, { begins: 2 * 86_400, ends: 9 * 86_400 }),
    ending: signZone('ending.example.', TOP, { begins: -30 * 86_400, ends: 3600 }),
    other: signZone('other.example.', TOP),
    stranger: signZone('other.example.', TOP),
  }
  for (const [zone, { text }] of Object.entries(zones)) if (zone !== 'stranger') served[originOf(zone)] = { text }
  served['keyless.example.'] = { text: TOP }
  const ds = [
    ...Object.entries(zones).flatMap(([zone, signed]) => (zone === 'other' ? [] : signed.ds)),
    ...zones.sound.ds.map((line) => line.replace('sound.example.', 'keyless.example.')),
  ]
  const cuts = [...Object.keys(zones), 'keyless', 'front']
    .filter((zone) => zone !== 'stranger')
    .map((zone) => `${zone} NS ns1.${zone}\nns1.${zone} A 192.0.2.1\n`)
  const parent = signZone(
    'example.',
    `$TTL 60\n@ SOA ns h 1 5 5 60 5\n@ NS ns\nns A 192.0.2.9\n${cuts.join('')}${ds.join('\n')}\n`,
  )
  // The parent has a server of its own: a DS record is asked for above the cut (RFC 4035 §3.1.4.1).
  const above = await keep(startNamed({ 'example.': { text: parent.text, fixed: true } }))
  const primary = await keep(startNamed(served))
  const upstreams = {
    'example.': [above],
    ...Object.fromEntries(Object.keys(served).map((origin) => [origin, [primary]])),
  }
  const unbound = await keep(startUnbound(upstreams, parent.ds))
  const caching = await keep(startCachingNamed(upstreams, parent.ds))
  front = await startFront()
  const ways: Ways = new Map()
  ways.set('192.0.2.1:53', primary)
  ways.set('192.0.2.80:80', { host: '127.0.0.1', port: (front.address() as { port: number }).port })
  const resolvers = [
    { name: 'unbound', host: unbound.host, port: unbound.port },
    { name: 'named', host: caching.host, port: caching.port },
  ]
  desk = await Desk.start(namesOf(resolvers, ways))
}, 180_000)
afterAll(async () => {
  process.stdout.write(`${writeTable()}\n`)
  front?.close()
  await desk?.stop()
  await Promise.all(programs.map((program) => program.stop()))
})

describe('a zone signed by hand at a server that takes updates and does not sign', () => {
  it.each([
    ['named', (zones: Record<string, Served>) => startNamed(zones)],
    ['knot', (zones: Record<string, Served>) => startKnot(zones)],
  ] as const)('loses no record to a push, its signatures included, at %s', async (world, start) => {
    const signed = signZone(
      'hand.example.',
      TOP.replace(/^go .*$/m, 'go 60 A 198.51.100.7\n_fides.go TXT "fides=token"'),
    )
    const server = await keep(start({ 'hand.example.': { text: signed.text } }))
    const lines = async () => {
      const taken = await transferZone(server, 'hand.example.', KEY)
      if (!taken.ok) throw new Error(taken.sentence)
      return taken.records.filter(({ type }) => type !== 'SOA').map(({ name, type, data }) => `${name} ${type} ${data}`)
    }
    const before = await lines()
    const taken = await transferZone(server, 'hand.example.', KEY)
    const zone = makeZone('hand.example.', taken.ok ? taken.records : [])
    const gateway = { name: 'links.front.example.', ipv4: [], ipv6: [], issuers: [] }
    const step = switchPlan(zone, 'go.hand.example.', 'token', gateway).steps.find(({ key }) => key === 'switch')!
    const pushed = await pushChange(server, zone, step, KEY)
    const after = await lines()
    const lost = before.filter((line) => !after.includes(line) && !line.startsWith('go.hand.example. A '))
    // Where the server says that it was done, the signature of what went may go with it.
    const holds = pushed.ok
      ? lost.every((line) => line.includes(' RRSIG A '))
      : lost.every((line) => / RRSIG (?:A|SOA) /.test(line)) &&
        after.some((line) => line.startsWith('go.hand.example. A '))
    const says = pushed.ok ? 'placed' : pushed.sentence
    const does = lost.length === 0 ? 'nothing lost' : `lost: ${lost.map((line) => line.slice(0, 40)).join('; ')}`
    note({ scenario: 'a zone signed by hand', world, says, does, verdict: holds ? 'true' : 'false' })
    expect(holds, `${says} — ${does}`).toBe(true)
  })
})

describe('signed zones (RFC 4033–4035)', () => {
  it.each([
    ['sound', 'a signed zone, NSEC', undefined, /./],
    ['hashed', 'a signed zone, NSEC3', undefined, /./],
    [
      'keyless',
      'DS in the parent without DNSKEY',
      'signing-broken',
      /has no DNSKEY: sign it again with that key, or have the registrar take the DS record out/,
    ],
    ['other', 'DS of another key', 'signing-broken', /and other\.example is signed with key \d+/],
    ['ended', 'signatures that have ended', 'signing-broken', /The signature of .* ended at/],
    ['early', 'signatures that are not valid yet', 'signing-broken', /begins at .*: the signer’s clock is ahead/],
    [
      'ending',
      'signatures that end soon',
      'signing-ending',
      /ends at .*, in (?:60|59) minutes, and has not been renewed/,
    ],
  ] as const)('%s: %s', async (zone, scenario, kind, says) => {
    const servers = [{ name: `ns1.${zone}.example`, address: '192.0.2.1' }]
    const id = await desk.domain(`go.${zone}.example`, 'open', originOf(zone), servers)
    await desk.look(id)
    const resolver = desk.names.resolvers[0]!
    const [checked, unchecked] = [
      await dig(resolver.port, `go.${zone}.example`, 'CNAME', '+recurse'),
      await dig(resolver.port, `go.${zone}.example`, 'CNAME', '+recurse', '+cd'),
    ]
    const cases = await desk.cases(id)
    const sentence = cases.map((row) => `${row.kind}: ${row.sentence}`).join(' — ') || 'no case'
    const holds =
      kind === undefined ? cases.length === 0 : cases.length === 1 && cases[0]!.kind === kind && says.test(sentence)
    const does = `${checked.rcode} ${checked.flags.includes('ad') ? '(ad) ' : ''}checked, ${unchecked.rcode} unchecked`
    note({ scenario, world: 'named, unbound', says: sentence, does, verdict: holds ? 'true' : 'false' })
    expect(holds, sentence).toBe(true)
    expect(checked.rcode).toBe(kind === 'signing-broken' ? 'SERVFAIL' : 'NOERROR')
    expect(unchecked.rcode).toBe('NOERROR')
  })
})
