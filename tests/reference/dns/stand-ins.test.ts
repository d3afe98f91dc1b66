import { execFile } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { promisify } from 'node:util'
import packet from 'dns-packet'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { encodeMessage, inRecord, message, question } from '../../../core/dns/wire'
import { readZone } from '../../../core/dns'
import { NamesWorld } from '../../../standins/names/world'
import { dig } from './bind'
import { AWKWARD, AWKWARD_ORIGIN } from './zones'

const SECRET = Buffer.alloc(32, 7)
const ZONE = `$TTL 120
@ SOA ns1 hostmaster ( 7 7200 900 1209600 30 )
@ NS ns1
ns1 A 127.0.0.1
@ A 198.51.100.7
www CNAME @
long TXT ${Array.from({ length: 12 }, (_, index) => `"${String(index).repeat(120).slice(0, 200)}"`).join(' ')}
`
let world: NamesWorld
beforeAll(async () => {
  world = await NamesWorld.start({
    authorityPorts: [0, 0],
    resolverPorts: [0, 0],
    keys: [{ name: 'desk-key.', secret: SECRET }],
    openTransfers: true,
  })
  world.put('rider.example.', ZONE)
})
afterAll(() => world.stop())
const [first, second] = [() => world.authorities[0]!, () => world.authorities[1]!]

describe('dig (BIND 9, Debian) reads our stand-in name servers', () => {
  it('answers with authority, over UDP and TCP', async () => {
    for (const more of [[], ['+tcp'], ['+noedns']]) {
      const told = await dig(first().port, 'rider.example', 'A', ...more)
      expect(told).toMatchObject({ rcode: 'NOERROR', answer: ['rider.example. 120 IN A 198.51.100.7'] })
      expect(told.flags).toContain('aa')
    }
    expect((await dig(second().port, 'www.rider.example', 'A')).answer).toEqual([
      'rider.example. 120 IN A 198.51.100.7',
      'www.rider.example. 120 IN CNAME rider.example.',
    ])
  })

  it('tells what is not there, with the SOA', async () => {
    const told = await dig(first().port, 'none.rider.example', 'A')
    expect(told.rcode).toBe('NXDOMAIN')
    expect(told.authority).toEqual([
      'rider.example. 120 IN SOA ns1.rider.example. hostmaster.rider.example. 7 7200 900 1209600 30',
    ])
  })

  it('cuts what does not fit, and gives it whole over TCP', async () => {
    expect((await dig(first().port, 'long.rider.example', 'TXT', '+noedns', '+ignore')).flags).toContain('tc')
    expect((await dig(first().port, 'long.rider.example', 'TXT', '+noedns')).answer).toHaveLength(1)
  })

  it('hands the zone over (AXFR)', async () => {
    const { stdout: out } = await promisify(execFile)(
      'dig',
      ['@127.0.0.1', '-p', String(first().port), 'rider.example', 'AXFR', '+noall', '+answer'],
      { encoding: 'utf8' },
    )
    expect(out.trim().split('\n')).toHaveLength(7)
  })

  it('takes an update signed by nsupdate, refuses one with a wrong key, and the secondary follows', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'fides-nsupdate-'))
    const update = (secret: Buffer) => {
      writeFileSync(
        join(folder, 'key'),
        `key "desk-key" { algorithm hmac-sha256; secret "${secret.toString('base64')}"; };`,
      )
      const ran = promisify(execFile)('nsupdate', ['-k', join(folder, 'key')])
      ran.child.stdin!.end(
        `server 127.0.0.1 ${first().port}\nzone rider.example\nprereq yxrrset rider.example. A ` +
          `198.51.100.7\nupdate delete rider.example. A\nupdate add rider.example. 300 A 192.0.2.80\nsend\n`,
      )
      return ran
    }
    await expect(update(Buffer.alloc(32, 9))).rejects.toThrow()
    expect((await dig(first().port, 'rider.example', 'A')).answer).toEqual(['rider.example. 120 IN A 198.51.100.7'])
    expect((await update(SECRET)).stderr).toBe('')
    expect((await dig(first().port, 'rider.example', 'A')).answer).toEqual(['rider.example. 300 IN A 192.0.2.80'])
    expect((await dig(second().port, 'rider.example', 'A')).answer).toEqual(['rider.example. 300 IN A 192.0.2.80'])
    expect((await dig(second().port, 'rider.example', 'SOA')).answer[0]).toContain(' 8 7200')
    rmSync(folder, { recursive: true })
  })

  it('is asked through the resolvers, whose TTLs run down', async () => {
    const told = await dig(world.resolvers[0]!.port, 'ns1.rider.example', 'A', '+recurse')
    expect(told.answer[0]).toMatch(/^ns1\.rider\.example\. 1(?:20|19) IN A 127\.0\.0\.1$/)
    expect(told.flags).toContain('ra')
    expect((await dig(world.resolvers[0]!.port, 'none.rider.example', 'A', '+recurse')).rcode).toBe('NXDOMAIN')
  })

  it('misbehaves when told to', async () => {
    second().faults = { lame: true }
    expect((await dig(second().port, 'rider.example', 'A')).rcode).toBe('REFUSED')
    second().faults = { servfail: true }
    expect((await dig(second().port, 'rider.example', 'A')).rcode).toBe('SERVFAIL')
    second().faults = {}
  })
})

describe('our messages, read by dns-packet', () => {
  it.each(Object.entries(AWKWARD).filter(([name]) => !/unknown|number|generic/i.test(name)))('%s', (_name, text) => {
    const records = readZone(text, AWKWARD_ORIGIN).records.filter((record) =>
      ['A', 'AAAA', 'NS', 'SOA', 'CNAME', 'MX', 'TXT', 'SRV', 'CAA', 'DS', 'DNSKEY', 'PTR'].includes(record.type),
    )
    const read = packet.decode(
      Buffer.from(
        encodeMessage(
          message(1, {
            response: true,
            questions: [question('zone.test.', 'A')],
            answer: records.map(inRecord),
            ednsSize: 1232,
          }),
        ),
      ),
    )
    expect(read.answers?.map((answer) => answer.type)).toEqual(records.map((record) => record.type))
    for (const [index, record] of records.entries()) {
      const { data } = read.answers![index] as unknown as { data: unknown }
      // The library writes addresses its own way; the octets are compared by writing both again.
      if (record.type === 'A') expect(data).toBe(record.data)
      if (['NS', 'CNAME', 'PTR'].includes(record.type)) expect(`${data}.`).toBe(record.data)
      if (record.type === 'MX') expect(data).toMatchObject({ preference: Number(record.data.split(' ')[0]) })
      if (record.type === 'SOA') expect(data).toMatchObject({ serial: Number(record.data.split(' ')[2]) })
    }
  })
})
