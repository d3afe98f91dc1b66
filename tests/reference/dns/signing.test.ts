import { describe, expect, it } from 'vitest'
import { judgeSigning, makeZone, readZone, zoneFaults, type DnsRecord, type SigningSeen } from '../../../core/dns'
import { dsMatches, keyTag } from '../../../core/dns/signing'
import { decodeMessage, encodeMessage, message, question } from '../../../core/dns/wire'

const record = (name: string, type: string, data: string): DnsRecord => ({ name, type, ttl: 86_400, data })
/** RFC 4034 §5.4: the key; its DS with SHA-1 there, with SHA-256 in RFC 4509 §2.3. Both from memory. */
const KEY = record(
  'dskey.example.com.',
  'DNSKEY',
  '256 3 5 AQOeiiR0GOMYkDshWoSKz9XzfwJr1AYtsmx3TGkJaNXVbfi/2pHm822aJ5iI9BMzNXxeYCmZDRD99WYwYqUSdjMmmAphXdvxegXd/' +
    'M5+X7OrzKBaMbCVdFLUUh6DhweJBjEVv5f2wwjM9XzcnOf+EPbtG9DMBmADjFDc2w/rljwvFw==',
)
const SHA1 = record(KEY.name, 'DS', '60485 5 1 2bb183af5f22588179a53b0a98631fad1a292118')
const SHA256 = record(KEY.name, 'DS', '60485 5 2 d4b7d520e7bb5f0f67674a0cceb1e3e0614b93c4f9e99b8383f6a1e4469da50a')

describe('keys and their DS records', () => {
  it('have the tag of RFC 4034 §5.4', () => expect(keyTag(KEY)).toBe(60_485))
  it.each([
    ['SHA-1 (RFC 4034 §5.4)', SHA1, true],
    ['SHA-256 (RFC 4509 §2.3)', SHA256, true],
    ['another digest', { ...SHA256, data: SHA256.data.replace(/a$/, 'b') }, false],
    ['another tag', { ...SHA256, data: SHA256.data.replace('60485', '60486') }, false],
    ['a digest type nobody knows', { ...SHA256, data: SHA256.data.replace(' 2 ', ' 9 ') }, false],
  ])('%s', async (_, ds, fits) => expect(await dsMatches(ds, KEY)).toBe(fits))
})

describe('a chain of trust (RFC 4035 §5)', () => {
  const now = Date.parse('2026-11-26T12:00:00Z')
  const signature = (begins: string, ends: string) =>
    record('go.dskey.example.com.', 'RRSIG', `A 5 4 86400 ${ends} ${begins} 60485 dskey.example.com. AAAA`)
  const seen = (more: Partial<SigningSeen>): SigningSeen => ({
    ds: [SHA256],
    keys: [KEY],
    sets: [
      {
        server: 'ns1',
        name: 'go.dskey.example.com.',
        type: 'A',
        signatures: [signature('20261101000000', '20261231000000')],
      },
    ],
    refusing: [],
    ...more,
  })
  const judged = async (more: Partial<SigningSeen>) => {
    const verdict = await judgeSigning('go.dskey.example.com.', 'dskey.example.com.', seen(more), now)
    return [verdict.state, 'trouble' in verdict ? verdict.trouble.sentence : ''] as const
  }
  const set = (...signatures: DnsRecord[]) => [{ ...seen({}).sets[0]!, signatures }]
  it.each([
    ['sound', {}, 'sound', ''],
    ['no DS: unsigned to the world (§5.2)', { ds: [] }, 'unsigned', ''],
    ['a DS nobody can follow: unsigned (§5.2)', { ds: [{ ...SHA256, data: '1 5 200 00' }] }, 'unsigned', ''],
    ['no DNSKEY', { keys: [] }, 'broken', 'has no DNSKEY'],
    ['no server gave keys: nothing is said of them', { keys: undefined }, 'sound', ''],
    ['another key', { ds: [{ ...SHA256, data: SHA256.data.replace('60485', '1') }] }, 'broken', 'with key 60485'],
    ['no signature', { sets: set() }, 'broken', 'without a signature'],
    ['ended', { sets: set(signature('20261001000000', '20261101000000')) }, 'broken', 'ended at 2026-11-01 00:00 UTC'],
    [
      'not begun',
      { sets: set(signature('20261201000000', '20261231000000')) },
      'broken',
      'the signer’s clock is ahead',
    ],
    [
      'one of two is valid',
      { sets: set(signature('20261001000000', '20261101000000'), signature('20261101000000', '20261231000000')) },
      'sound',
      '',
    ],
    [
      'ends tomorrow, not renewed',
      { sets: set(signature('20261101000000', '20261127120000')) },
      'ending',
      'in 24 hours',
    ],
    ['signed for two days, anew each time', { sets: set(signature('20261126000000', '20261128000000')) }, 'sound', ''],
    [
      'refused by a resolver that checks, for a reason of its own',
      { refusing: [{ server: 'R', says: 'the key is missing' }] },
      'broken',
      'R refuses to answer',
    ],
  ] as const)('%s', async (_, more, state, words) => {
    const [found, sentence] = await judged(more as Partial<SigningSeen>)
    expect(found).toBe(state)
    expect(sentence).toContain(words)
  })
  it('says by whom it is refused, and why in their words', async () => {
    const [, sentence] = await judged({ keys: [], refusing: [{ server: 'R', says: 'no DNSKEY' }] })
    expect(sentence).toMatch(/; R refuses it\. Said why: no DNSKEY\.$/)
  })
})

describe('what signers keep', () => {
  const top = '$TTL 60\n@ SOA ns1 h 1 2 3 4 5\n@ NS ns1\nns1 A 192.0.2.1\n'
  const kinds = (text: string) => {
    const file = readZone(top + text, 'z.test.')
    expect(file.faults).toEqual([])
    return zoneFaults(file, makeZone(file.origin, file.records)).map(({ kind }) => kind)
  }
  const rrsig = (type: string, ttl: number) => `RRSIG ${type} 13 2 ${ttl} 20301231000000 20260101000000 1 z.test. AAAA`
  it.each([
    [
      'RRSIG and NSEC stand beside a CNAME (RFC 4035 §2.5)',
      `w CNAME ns1\nw ${rrsig('CNAME', 60)}\nw NSEC z.test. CNAME\n`,
      [],
    ],
    // The document names no other type but KEY, and named refuses such a zone.
    ['DNSKEY does not', 'w CNAME ns1\nw DNSKEY 257 3 13 AAAA\n', ['cname-and-other']],
    [
      'each RRSIG has the TTL of what it signs (RFC 4034 §3)',
      `w 60 A 192.0.2.2\nw 60 ${rrsig('A', 60)}\nw 90 ${rrsig('TXT', 90)}\nw 90 TXT "x"\n`,
      [],
    ],
  ])('%s', (_, text, expected) => expect(kinds(text).filter((kind) => kind !== 'signed-zone')).toEqual(expected))
})

describe('a message with EDNS (RFC 6891)', () => {
  it('asks for signatures (RFC 3225) and unchecked data (RFC 4035 §3.2.2)', () => {
    const asked = message(7, { questions: [question('a.test.', 'A')], ednsSize: 1232, wantsSignatures: true, cd: true })
    expect(decodeMessage(encodeMessage(asked))).toMatchObject({ ednsSize: 1232, wantsSignatures: true, cd: true })
    // The DO bit is the first of the flags in the OPT record's TTL (RFC 6891 §6.1.3).
    expect(Buffer.from(encodeMessage(asked)).subarray(-11).toString('hex')).toBe('00002904d0000080000000')
  })
  it('reads why an answer is as it is (RFC 8914 §2), and passes over other options', () => {
    const plain = encodeMessage(
      message(7, { response: true, rcode: 'SERVFAIL', questions: [question('a.test.', 'A')] }),
    )
    const options = Buffer.concat([
      Buffer.from('000a000401020304', 'hex'),
      Buffer.from('000f0009', 'hex'),
      Buffer.from('0009', 'hex'),
      Buffer.from('no keys', 'ascii'),
    ])
    const opt = Buffer.concat([Buffer.from('00002904d000000000', 'hex'), Buffer.from([0, options.length]), options])
    const octets = Buffer.concat([plain, opt])
    octets[11] = 1
    expect(decodeMessage(octets)).toMatchObject({
      rcode: 'SERVFAIL',
      extendedErrors: [{ code: 9, text: 'no keys' }],
    })
    // One that is cut off is no option at all.
    const short = Buffer.concat([plain, Buffer.from('00002904d0000000000006000f00090009', 'hex')])
    short[11] = 1
    expect(decodeMessage(short).extendedErrors).toEqual([])
  })
})
