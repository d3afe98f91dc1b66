import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import {
  addToSerial,
  compareSerials,
  forecast,
  judgeCaa,
  negativeTtl,
  nextSerial,
  readName,
  readSuffix,
  readTtl,
  readZone,
  type DnsRecord,
  type Observation,
} from '../../../core/dns'
import { RFC2308 } from './zones'

describe('serial arithmetic (RFC 1982)', () => {
  // RFC 1982 §5 works its examples with SERIAL_BITS 8 and 2; these are its 32-bit facts, §3.1, §3.2 and §7 (RFC 1912's
  // "2147483647" step).
  it.each([
    [0, 1, -1],
    [1, 0, 1],
    [4_294_967_295, 0, -1],
    [0, 4_294_967_295, 1],
    [0, 2_147_483_647, -1],
    [2_147_483_649, 0, -1],
    [5, 5, 0],
  ])('%d against %d is %d', (a, b, expected) => expect(Math.sign(compareSerials(a, b)!)).toBe(expected))
  it('leaves the opposite point undefined (§3.2)', () => expect(compareSerials(0, 2_147_483_648)).toBeUndefined())
  it('adds up to 2^31 − 1 and wraps (§3.1)', () => {
    expect(addToSerial(4_294_967_295, 1)).toBe(0)
    expect(addToSerial(1, 2_147_483_647)).toBe(2_147_483_648)
    expect(() => addToSerial(1, 2_147_483_648)).toThrow(RangeError)
  })
  it('what is added lies ahead, whatever the serial', () =>
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 4_294_967_295 }),
        fc.integer({ min: 1, max: 2_147_483_647 }),
        (serial, by) => compareSerials(serial, addToSerial(serial, by)) === -1,
      ),
    ))
  // Common practice, no source: YYYYMMDDnn (RFC 1912 §2.2 recommends it).
  it.each([
    [2026112001, '2026-11-23', 2026112300],
    [2026112300, '2026-11-23', 2026112301],
    [2026112399, '2026-11-23', 2026112400],
    [2030010101, '2026-11-23', 2030010102],
    [7, '2026-11-23', 8],
    [4_294_967_295, '2026-11-23', 0],
  ])('the serial after %d on %s is %d', (serial, day, expected) =>
    expect(nextSerial(serial, new Date(day))).toBe(expected),
  )
})

describe('negative answers (RFC 2308 §5)', () => {
  it('are kept for the smaller of the SOA’s TTL and MINIMUM', () => {
    const soa = readZone(RFC2308, 'example.').records[0]!
    expect(negativeTtl(soa)).toBe(1200)
    expect(negativeTtl({ ...soa, ttl: 60 })).toBe(60)
    expect(negativeTtl({ ...soa, ttl: 86_400 })).toBe(1200)
  })
})

describe('CAA (RFC 8659)', () => {
  const caa = (name: string, ...data: string[]): DnsRecord[] =>
    data.map((each) => ({ name, type: 'CAA', ttl: 60, data: each }))
  const tree = (sets: Record<string, string[]>) => (name: string) => caa(name, ...(sets[name] ?? []))
  it('takes the first set on the way up (§3, its example of X.Y.Z)', () => {
    const at = tree({ 'z.': ['0 issue "top.test"'], 'y.z.': ['0 issue "mid.test"'] })
    expect(judgeCaa('x.y.z.', ['mid.test'], at)).toMatchObject({ allowed: true, owner: 'y.z.' })
    expect(judgeCaa('x.y.z.', ['top.test'], at)).toMatchObject({ allowed: false, owner: 'y.z.' })
    expect(judgeCaa('w.z.', ['top.test'], at)).toMatchObject({ allowed: true, owner: 'z.' })
  })
  it.each([
    ['none anywhere lets all in (§3)', {}, true],
    ['the issuer’s name (§4.2)', { 'example.': ['0 issue "ca1.example.net"'] }, true],
    ['with parameters (§4.2)', { 'example.': ['0 issue "ca1.example.net; account=230123"'] }, true],
    ['";" lets nobody in (§4.2)', { 'example.': ['0 issue ";"'] }, false],
    ['an empty value lets nobody in (§4.2)', { 'example.': ['0 issue ""'] }, false],
    ['malformed lets nobody in (§4.2)', { 'example.': ['0 issue "%%%%%"'] }, false],
    ['another issuer only', { 'example.': ['0 issue "ca2.example.org"'] }, false],
    ['one of several', { 'example.': ['0 issue "ca2.example.org"', '0 issue "ca1.example.net"'] }, true],
    [
      'iodef alone restricts nobody (§4.1: no issue property)',
      { 'example.': ['0 iodef "mailto:security@example.com"'] },
      true,
    ],
    ['issuewild alone restricts no plain name (§4.3)', { 'example.': ['0 issuewild ";"'] }, true],
    [
      'an unknown critical tag shuts all out (§4.5)',
      { 'example.': ['0 issue "ca1.example.net"', '128 tbs "Unknown"'] },
      false,
    ],
    [
      'an unknown tag that is not critical is passed over (§4.5)',
      { 'example.': ['0 issue "ca1.example.net"', '0 tbs "Unknown"'] },
      true,
    ],
  ] as [string, Record<string, string[]>, boolean][])('%s', (_name, sets, allowed) =>
    expect(judgeCaa('certs.example.', ['ca1.example.net'], tree(sets)).allowed).toBe(allowed),
  )
})

describe('public suffixes (publicsuffix.org)', () => {
  // From the list's own test vectors (tests/test_psl.txt), from memory.
  it.each([
    ['example.com', true, false],
    ['b.example.com', false, false],
    ['uk.com', false, true],
    ['co.uk', false, true],
    ['example.co.uk', true, false],
    ['kyoto.jp', false, true],
    ['test.kyoto.jp', true, false],
    ['ide.kyoto.jp', false, true],
    ['b.ide.kyoto.jp', true, false],
    ['city.kobe.jp', true, false],
    ['www.city.kobe.jp', false, false],
    ['www.ck', true, false],
    ['test.ck', false, true],
  ])('%s', (host, isApex, isPublicSuffix) => expect(readSuffix(host)).toMatchObject({ isApex, isPublicSuffix }))
})

describe('names (RFC 1035 §2.3.4, §5.1)', () => {
  it.each(['x'.repeat(64), 'a..b', '.a', `${'a.'.repeat(127)}bc`, 'a\\9', 'a\\256', '\\'])(
    '%s is refused in a sentence',
    (name) => expect(readName(name)).toMatchObject({ ok: false, sentence: expect.any(String) }),
  )
  it.each([
    ['@', 'z.test.'],
    ['www', 'www.z.test.'],
    ['WWW.Other.', 'www.other.'],
    ['a\\.b', 'a\\.b.z.test.'],
    ['\\119ww', 'www.z.test.'],
    ['.', '.'],
  ])('%s is %s', (typed, name) => expect(readName(typed, 'z.test.')).toEqual({ ok: true, name }))
  it('reads its own writing', () =>
    fc.assert(
      fc.property(
        fc.array(
          fc.string({
            minLength: 1,
            maxLength: 20,
            unit: fc.integer({ min: 0, max: 255 }).map((code) => String.fromCharCode(code)),
          }),
          { minLength: 1, maxLength: 5 },
        ),
        (labels) => {
          const escaped =
            labels
              .map((label) =>
                [...label].map((character) => `\\${String(character.charCodeAt(0)).padStart(3, '0')}`).join(''),
              )
              .join('.') + '.'
          const first = readName(escaped)
          return first.ok && JSON.stringify(readName(first.name)) === JSON.stringify(first)
        },
      ),
      { seed: 1035, numRuns: 2000, examples: [[['\\0\0', '\0']], [['\\', '\\1']]] },
    ))
})

describe('TTLs', () => {
  // Units: common practice, no source.
  it.each([
    ['0', 0],
    ['3600', 3600],
    ['1h', 3600],
    ['1h30m', 5400],
    ['1W2D3H4M5S', 788_645],
  ])('%s is %d s', (text, seconds) => expect(readTtl(text)).toBe(seconds))
  it.each(['', 'h', '-1', '1.5', '1y', '4294967296'])('“%s” is none', (text) => expect(readTtl(text)).toBeUndefined())
})

describe('the forecast against simulated resolvers (RFC 1035 §3.2.1, RFC 2181 §8, RFC 2308 §5), 10,000 runs', () => {
  // Three ways resolvers keep time, common practice, no source: counting whole seconds since the answer came, and by a
  // clock of whole seconds, up to the last of them or through it.
  const styles = [
    {
      left: (came: number, ttl: number, now: number) => ttl - Math.floor((now - came) / 1000),
      until: (came: number, ttl: number) => came + ttl * 1000,
    },
    {
      left: (came: number, ttl: number, now: number) => Math.floor(came / 1000) + ttl - Math.floor(now / 1000),
      until: (came: number, ttl: number) => (Math.floor(came / 1000) + ttl) * 1000,
    },
    {
      left: (came: number, ttl: number, now: number) => Math.floor(came / 1000) + ttl - Math.floor(now / 1000),
      until: (came: number, ttl: number) => (Math.floor(came / 1000) + ttl + 1) * 1000,
    },
  ]
  it('nobody sees the old answer after the moment told, and the moment is never over two seconds late', () => {
    let random = 20261123
    const draw = (most: number) => (random = (random * 48_271) % 2_147_483_647) % most
    let [latestEarly, latestLate] = [0, 0]
    for (let run = 0; run < 10_000; run++) {
      const changedAt = 1_000_000_000 + draw(1_000_000)
      const negative = draw(4) === 0
      const oldTtl = 1 + draw(7200)
      const wanted = { name: 'r.', type: 'A', data: ['192.0.2.80'] }
      const askedAt = changedAt + draw(oldTtl * 1000)
      const held = Array.from({ length: 1 + draw(5) }, (_, index) => {
        const style = styles[draw(3)]!
        // It asked the name server some time before the change, and may keep the answer shorter than it could.
        const ttl = draw(3) === 0 ? 1 + draw(oldTtl) : oldTtl
        const came = changedAt - draw(ttl * 1000)
        return { server: `R${index}`, style, came, ttl, until: style.until(came, ttl) }
      })
      const told = forecast({
        wanted,
        changedAt,
        heldUntil: changedAt + oldTtl * 1000,
        resolvers: held.map(({ server, style, came, ttl, until }) => {
          const stillOld = askedAt < until
          const seen: Observation = {
            role: 'resolver',
            server,
            name: 'r.',
            type: 'A',
            at: askedAt,
            firstAt: askedAt,
            ...(stillOld
              ? {
                  status: negative ? 'none' : 'answered',
                  data: negative ? [] : ['198.51.100.7'],
                  ttl: style.left(came, ttl, askedAt),
                }
              : { status: 'answered', data: wanted.data, ttl: 3600 }),
          }
          return { server, seen: [seen] }
        }),
      })
      for (const [index, resolver] of told.resolvers.entries()) {
        const { until } = held[index]!
        expect(until).toBeLessThanOrEqual(told.everyoneBy!)
        if (resolver.state === 'new') continue
        latestEarly = Math.max(latestEarly, until - resolver.by!)
        latestLate = Math.max(latestLate, resolver.by! - until)
      }
      // The moment for everyone is the last at which a resolver that asked just before the change could still hold the
      // old answer.
      expect(told.everyoneBy! - (changedAt + oldTtl * 1000)).toBe(1000)
    }
    expect(latestEarly).toBe(0)
    expect(latestLate).toBeGreaterThan(0)
    expect(latestLate).toBeLessThanOrEqual(2000)
  })
})
