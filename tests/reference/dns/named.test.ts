import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import {
  intake,
  lookup,
  makeZone,
  readZone,
  switchPlan,
  writeZone,
  zoneAfter,
  type GatewayFacts,
} from '../../../core/dns'
import { encodeMessage, sign } from '../../../core/dns/wire'
import { ask } from '../../../server/names/ask'
import { transferZone } from '../../../server/names/transfer'
import { pushChange } from '../../../server/names/update'
import { dig, startNamed, type Named } from './bind'
import { AWKWARD, AWKWARD_ORIGIN, RFC4592 } from './zones'

const RIDER = `$TTL 3600
@ SOA ns1 hostmaster ( 2026112001 7200 900 1209600 900 )
@ NS ns1
@ NS ns2
ns1 A 127.0.0.1
ns2 A 127.0.0.1
@ 86400 A 198.51.100.7
@ MX 10 mail
mail A 198.51.100.25
www CNAME @
@ CAA 0 issue "other-ca.test"
`
const TREE = `$TTL 600
@ SOA ns1 hostmaster 1 7200 900 1209600 300
@ NS ns1
ns1 A 192.0.2.1
a CNAME b
b CNAME c
c A 192.0.2.3
out CNAME elsewhere.invalid.
gone CNAME nothing
loop1 CNAME loop2
loop2 CNAME loop1
deep.er.x TXT "x"
*.w A 192.0.2.9
*.alias CNAME c
child NS ns.child
ns.child A 192.0.2.10
child DS 12345 13 2 0123456789ABCDEF0123456789ABCDEF0123456789ABCDEF0123456789ABCDEF
moved DNAME x
both A 192.0.2.20
both AAAA 2001:db8::20
mail MX 5 c
_s._tcp SRV 0 0 80 c
`
const GATEWAY: GatewayFacts = {
  name: 'gateway.fides.test.',
  ipv4: ['192.0.2.80'],
  ipv6: ['2001:db8::80'],
  issuers: ['ca.test'],
}

let named: Named
const zones = {
  'example.': RFC4592,
  'rider.test.': RIDER,
  'tree.test.': TREE,
  'pushed.test.': RIDER,
  'changed.test.': RIDER,
  [AWKWARD_ORIGIN]: AWKWARD['CAA']!,
}
beforeAll(async () => {
  named = await startNamed(zones)
})
afterAll(() => named.stop())
const server = () => ({ host: '127.0.0.1', port: named.port })
const key = () => ({ name: named.keyName, secret: named.secret })
const ours = (origin: string) => makeZone(origin, readZone((zones as Record<string, string>)[origin]!, origin).records)
const line = (record: { name: string; ttl: number; type: string; data: string }) =>
  `${record.name} ${record.ttl} IN ${record.type} ${record.data}`.toLowerCase()
const lowered = (lines: string[]) => lines.map((each) => each.toLowerCase()).sort()

/** The questions RFC 4592 §2.2.1 discusses, answered and not, and those around them. */
const RFC4592_QUESTIONS: [string, string][] = [
  ['host3.example.', 'MX'],
  ['host3.example.', 'A'],
  ['foo.bar.example.', 'TXT'],
  ['host1.example.', 'MX'],
  ['sub.*.example.', 'MX'],
  ['_telnet._tcp.host1.example.', 'SRV'],
  ['host.subdel.example.', 'A'],
  ['ghost.*.example.', 'MX'],
  ['*.example.', 'TXT'],
  ['*.example.', 'A'],
  ['example.', 'SOA'],
  ['example.', 'A'],
  ['_tcp.host2.example.', 'SRV'],
  ['host2.example.', 'TXT'],
  ['_ssh._tcp.host2.example.', 'SRV'],
  ['subdel.example.', 'NS'],
  ['subdel.example.', 'DS'],
  ['sub.*.example.', 'TXT'],
]
const TREE_QUESTIONS: [string, string][] = [
  ['a', 'A'],
  ['a', 'AAAA'],
  ['a', 'CNAME'],
  ['c', 'A'],
  ['out', 'A'],
  ['gone', 'A'],
  ['er.x', 'TXT'],
  ['deep.er.x', 'TXT'],
  ['x', 'A'],
  ['no.x', 'A'],
  ['one.w', 'A'],
  ['two.one.w', 'A'],
  ['w', 'A'],
  ['any.alias', 'A'],
  ['any.alias', 'MX'],
  ['child', 'A'],
  ['child', 'DS'],
  ['www.child', 'A'],
  ['child', 'NS'],
  ['deep.er.moved', 'TXT'],
  ['none.moved', 'A'],
  ['moved', 'DNAME'],
  ['moved', 'A'],
  ['both', 'A'],
  ['both', 'AAAA'],
  ['both', 'TXT'],
  ['mail', 'MX'],
  ['_s._tcp', 'SRV'],
  ['_tcp', 'SRV'],
  ['nothing', 'A'],
  ['@', 'NS'],
  ['@', 'SOA'],
  ['@', 'MX'],
].map(([name, type]) => [name === '@' ? 'tree.test.' : `${name}.tree.test.`, type!])

describe('the lookup algorithm of RFC 1034 §4.3.2 and RFC 4592, question by question against named (BIND 9)', () => {
  for (const [origin, questions] of [
    ['example.', RFC4592_QUESTIONS],
    ['tree.test.', TREE_QUESTIONS],
  ] as const) {
    it.each(questions)(`${origin} %s %s`, async (name, type) => {
      const theirs = await dig(named.port, name, type, '+noedns')
      const mine = lookup(ours(origin), name, type)
      expect(mine.rcode).toBe(theirs.rcode)
      expect(mine.authoritative).toBe(theirs.flags.includes('aa'))
      expect(mine.answer.map(line).sort()).toEqual(lowered(theirs.answer))
      // A negative answer carries the SOA (RFC 2308 §3), with its MINIMUM as TTL; ours tells the record as it stands.
      const authority = (lines: string[]) =>
        lines.map((each) =>
          each
            .split(' ')
            .filter((_, index) => index !== 1)
            .join(' '),
        )
      if (theirs.answer.length === 0)
        expect(authority(mine.authority.map(line).sort())).toEqual(authority(lowered(theirs.authority)))
    })
  }
})

describe('our client, against named', () => {
  it('asks as dig does, and takes a cut answer over TCP', async () => {
    const asked = await ask(server(), 'rider.test.', 'MX')
    expect(asked.ok && asked.message.answer.map((record) => record.data)).toEqual(['10 mail.rider.test.'])
    expect(asked.ok && asked.message.aa).toBe(true)
  })

  it('takes a zone by signed AXFR, record for record', async () => {
    const transferred = await transferZone(server(), 'tree.test.', key())
    if (!transferred.ok) throw new Error(transferred.sentence)
    expect(transferred.records.map(line).sort()).toEqual(ours('tree.test.').records.map(line).sort())
  })

  it('feeds the intake with what named hands over', async () => {
    const transferred = await transferZone(server(), 'pushed.test.', key())
    if (!transferred.ok) throw new Error(transferred.sentence)
    const file = readZone(writeZone('pushed.test.', transferred.records), 'pushed.test.')
    expect(file.faults).toEqual([])
    const kinds = intake(file, 'pushed.test.', 'token-1', GATEWAY).map((finding) => finding.kind)
    expect(kinds).toEqual(expect.arrayContaining(['website-on-name', 'mail-on-name', 'caa-shuts-out']))
  })

  it('is told when the zone is not handed over', async () => {
    expect(await transferZone(server(), 'tree.test.')).toMatchObject({
      ok: false,
      sentence: expect.stringContaining('refuses to hand over'),
    })
    const wrong = await transferZone(server(), 'tree.test.', { name: key().name, secret: new Uint8Array(32) })
    expect(wrong).toMatchObject({ ok: false, sentence: expect.stringContaining('BADSIG') })
    const unknown = await transferZone(server(), 'tree.test.', { name: 'nobody.', secret: key().secret })
    expect(unknown).toMatchObject({ ok: false })
  })

  it('pushes a plan’s records, and dig is answered with them', async () => {
    const transferred = await transferZone(server(), 'pushed.test.', key())
    if (!transferred.ok) throw new Error(transferred.sentence)
    let zone = makeZone('pushed.test.', transferred.records)
    const plan = switchPlan(zone, 'pushed.test.', 'token-1', GATEWAY)
    expect(plan.steps.map((step) => step.key)).toEqual(['lower-ttl', 'wait-old-ttl', 'prove', 'switch', 'wait', 'open'])
    for (const step of plan.steps) {
      if (step.add.length + step.remove.length === 0) continue
      expect(await pushChange(server(), zone, step, key()), step.key).toEqual({ ok: true })
      zone = zoneAfter(zone, step)
      for (const record of step.add)
        expect((await dig(named.port, record.name, record.type)).answer, step.key).toContain(
          line(record).replace(' in ', ' IN ').replace(record.type.toLowerCase(), record.type),
        )
    }
    expect((await dig(named.port, 'pushed.test.', 'A')).answer).toEqual(['pushed.test. 3600 IN A 192.0.2.80'])
    expect((await dig(named.port, 'pushed.test.', 'AAAA')).answer).toEqual(['pushed.test. 3600 IN AAAA 2001:db8::80'])
    expect((await dig(named.port, 'pushed.test.', 'CAA')).answer).toEqual([
      'pushed.test. 3600 IN CAA 0 issue "ca.test"',
      'pushed.test. 3600 IN CAA 0 issue "other-ca.test"',
    ])
    // Mail is kept.
    expect((await dig(named.port, 'pushed.test.', 'MX')).answer).toEqual([
      'pushed.test. 3600 IN MX 10 mail.pushed.test.',
    ])
  })

  it('is refused with a wrong key, and nothing changes', async () => {
    const zone = ours('rider.test.')
    const change = { remove: [], add: [{ name: 'x.rider.test.', type: 'A', ttl: 60, data: '192.0.2.1' }] }
    expect(await pushChange(server(), zone, change, { name: key().name, secret: new Uint8Array(32) })).toMatchObject({
      ok: false,
      reason: 'key',
      sentence: expect.stringContaining('BADSIG'),
    })
    expect(await pushChange(server(), zone, change, { name: 'nobody.', secret: key().secret })).toMatchObject({
      ok: false,
      reason: 'key',
    })
    expect((await dig(named.port, 'x.rider.test.', 'A')).rcode).toBe('NXDOMAIN')
  })

  it('a signature from an hour ago is refused for its time (BADTIME)', async () => {
    const { exchange } = await import('../../../server/names/ask')
    const { updateMessage, verify, decodeMessage } = await import('../../../core/dns/wire')
    const now = Math.floor(Date.now() / 1000)
    const signed = await sign(
      encodeMessage(updateMessage(7, ours('rider.test.'), { remove: [], add: [] })),
      key(),
      now - 3600,
    )
    for await (const octets of exchange(server(), signed.octets, 3000, 3000)) {
      expect(decodeMessage(octets).rcode).toBe('NOTAUTH')
      expect(await verify(octets, key(), now, signed.mac)).toMatchObject({ ok: false, error: 'BADTIME' })
      break
    }
  })

  it('a set that changed meanwhile makes the update fail, and is named', async () => {
    const zone = ours('changed.test.')
    // Somebody else replaces the address first.
    const other = {
      remove: zone.set('changed.test.', 'A').slice(),
      add: [{ name: 'changed.test.', type: 'A', ttl: 60, data: '203.0.113.9' }],
    }
    expect(await pushChange(server(), zone, other, key())).toEqual({ ok: true })
    const step = switchPlan(zone, 'changed.test.', 'token-2', GATEWAY).steps.find(({ key: name }) => name === 'switch')!
    const refused = await pushChange(server(), zone, step, key())
    expect(refused).toMatchObject({
      ok: false,
      reason: 'changed',
      sets: [{ name: 'changed.test', type: 'A', expected: ['198.51.100.7'], found: ['203.0.113.9'] }],
    })
    expect(!refused.ok && refused.sentence).toContain(
      'the A records of changed.test are 203.0.113.9 and were 198.51.100.7',
    )
    expect((await dig(named.port, 'changed.test.', 'AAAA')).answer).toEqual([])
  })

  it('what a server passes over in silence is found by reading back (RFC 2136 §3.4.2.2)', async () => {
    const zone = ours('rider.test.')
    const change = { remove: [], add: [{ name: 'mail.rider.test.', type: 'CNAME', ttl: 60, data: 'x.test.' }] }
    expect(await pushChange(server(), zone, change, key())).toMatchObject({
      ok: false,
      reason: 'not-kept',
      sentence: expect.stringContaining('CNAME x.test. of mail.rider.test'),
    })
  })
})
