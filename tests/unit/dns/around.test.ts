import { BlockList } from 'node:net'
import { describe, expect, it } from 'vitest'
import { fiveYearTotal } from '../../../core/domain/renewal'
import { readAccessLog, readLogLine } from '../../../core/log/access-log'
import { deriveKey, reachProof, readReachNonce } from '../../../environment/secrets'
import { readEndpoint, workerVariables } from '../../../environment/variables'
import { makeNamesContext } from '../../../server/names/context'
import { makePace } from '../../../server/names/pace'
import { isListed, isPublicAddress } from '../../../server/names/address-guard'
import { seal, unseal } from '../../../server/seal'
import { nextStep } from '../../../core/domain/next-step'

describe('the pace', () => {
  it.each([48, 50, 7])(
    'lets at most %d through in any second, in their order, after a hold-up too',
    async (perSecond) => {
      let now = 0
      const passed: number[] = []
      const pace = makePace(
        perSecond,
        () => now,
        async (milliseconds) => {
          // Every now and then the machine is busy and wakes the sleeper late.
          now += milliseconds + (passed.length % 37 === 0 ? 800 : 0)
        },
      )
      const order: number[] = []
      await Promise.all(
        Array.from({ length: 300 }, (_, index) =>
          pace().then(() => {
            passed.push(now)
            order.push(index)
          }),
        ),
      )
      expect(order).toEqual([...order].sort((a, b) => a - b))
      for (const start of passed)
        expect(passed.filter((moment) => moment >= start && moment < start + 1000).length).toBeLessThanOrEqual(
          perSecond,
        )
    },
  )
})

describe('kept secrets', () => {
  const key = deriveKey('x'.repeat(32), 'sealing')
  it('open with the same key and for the same thing only', () => {
    const sealed = seal(key, Buffer.from('secret of the key'), 'update-key 1')
    expect(sealed.toString('latin1')).not.toContain('secret')
    expect(unseal(key, sealed, 'update-key 1')!.toString()).toBe('secret of the key')
    expect(unseal(key, sealed, 'update-key 2')).toBeUndefined()
    expect(unseal(deriveKey('y'.repeat(32), 'sealing'), sealed, 'update-key 1')).toBeUndefined()
    expect(
      unseal(key, Buffer.concat([sealed.subarray(0, -1), Buffer.of(sealed.at(-1)! ^ 1)]), 'update-key 1'),
    ).toBeUndefined()
    expect(seal(key, Buffer.from('a'), 'b').equals(seal(key, Buffer.from('a'), 'b'))).toBe(false)
  })
  it('prove a gateway per host and word', () => {
    const reach = deriveKey('x'.repeat(32), 'reach')
    expect(reach.equals(key)).toBe(false)
    expect(reachProof(reach, 'a.example', 'n'.repeat(20))).not.toBe(reachProof(reach, 'b.example', 'n'.repeat(20)))
    expect(readReachNonce('/.well-known/fides/abcdefghijklmnop')).toBe('abcdefghijklmnop')
    for (const path of [
      '/.well-known/fides/short',
      '/.well-known/fides/',
      '/.well-known/other/abcdefghijklmnop',
      '/.well-known/fides/abcdefghijklmnop?x',
      '/fides',
    ])
      expect(readReachNonce(path)).toBeUndefined()
  })
})

describe('where servers are', () => {
  it('reads endpoints', () => {
    expect(readEndpoint('192.0.2.53', 53)).toEqual({ host: '192.0.2.53', port: 53 })
    expect(readEndpoint('[2001:db8::1]:5353', 53)).toEqual({ host: '2001:db8::1', port: 5353 })
    expect(readEndpoint('2001:db8::1', 53)).toEqual({ host: '2001:db8::1', port: 53 })
    for (const text of ['name.example', '192.0.2.53:0', '192.0.2.53:99999', '', '[192.0.2.1'])
      expect(readEndpoint(text, 53)).toBeUndefined()
  })
  it('leads outside addresses where the environment says', () => {
    const names = makeNamesContext(
      workerVariables.parse({
        FIDES_DATABASE_URL: 'mariadb://a:b@c/d',
        FIDES_SECRET: 'x'.repeat(32),
        FIDES_DETOURS: '192.0.2.53:53=127.0.0.1:5300,[2001:db8::80]:80=127.0.0.1:8080',
        FIDES_RESOLVERS: 'A=127.0.0.1:5310',
      }),
    )
    expect(names.way('192.0.2.53', 53)).toEqual({ host: '127.0.0.1', port: 5300 })
    expect(names.way('2001:db8::80', 80)).toEqual({ host: '127.0.0.1', port: 8080 })
    expect(names.way('192.0.2.53', 80)).toEqual({ host: '192.0.2.53', port: 80 })
    expect(names.resolvers).toEqual([{ name: 'A', host: '127.0.0.1', port: 5310 }])
  })
  // RFC 6890 (special-purpose registries).
  it.each([
    '127.0.0.1',
    '10.1.2.3',
    '192.168.0.1',
    '169.254.169.254',
    '::1',
    'fe80::1',
    'fc00::1',
    '::ffff:127.0.0.1',
    '0.0.0.0',
    '100.64.0.1',
    '224.0.0.1',
    '64:ff9b::7f00:1',
    '2002:7f00:1::',
    '2001::1',
    '192.0.0.8',
    '198.18.0.1',
    '240.0.0.1',
    '255.255.255.255',
    'ff02::1',
    '::ffff:10.0.0.1',
    '::',
  ])('fetches nothing from %s', (address) => {
    expect(isPublicAddress(address)).toBe(false)
  })
  it('fetches from public addresses', () =>
    expect([isPublicAddress('93.184.215.14'), isPublicAddress('2606:2800:21f::1')]).toEqual([true, true]))
})

describe('a network the operator listed', () => {
  const networks = new BlockList()
  networks.addSubnet('10.20.0.0', 16, 'ipv4')
  networks.addSubnet('fd00:1::', 32, 'ipv6')
  it.each([
    ['10.20.3.4', true],
    ['::ffff:10.20.3.4', true],
    ['10.21.0.1', false],
    ['fd00:1::53', true],
    ['fd00:2::53', false],
    ['127.0.0.1', false],
  ])('%s: %s', (address, listed) => expect(isListed(address, networks)).toBe(listed))
})

describe('an access log', () => {
  // The two lines of the Apache HTTP Server documentation, "Log Files": Common and Combined Log Format.
  const COMMON = '127.0.0.1 - frank [10/Oct/2000:13:55:36 -0700] "GET /apache_pb.gif HTTP/1.0" 200 2326'
  const COMBINED = `${COMMON} "http://www.example.com/start.html" "Mozilla/4.08 [en] (Win98; I ;Nav)"`
  it.each([COMMON, COMBINED])('reads %s', (line) => {
    expect(readLogLine(line)).toEqual({
      method: 'GET',
      target: '/apache_pb.gif',
      status: 200,
      at: Date.UTC(2000, 9, 10, 20, 55, 36),
    })
  })
  it('reads escaped quotes, no size, and requests without a version', () => {
    expect(
      readLogLine('2001:db8::1 - - [24/Nov/2026:10:00:00 +0000] "GET /a HTTP/1.1" 304 - "-" "say \\"hi\\""'),
    ).toMatchObject({ target: '/a', status: 304 })
    expect(readLogLine('192.0.2.1 - - [24/Nov/2026:10:00:00 +0000] "GET /old" 200 5')).toMatchObject({ target: '/old' })
    for (const line of [
      '',
      'GET / HTTP/1.1',
      '192.0.2.1 - - [x] "GET / HTTP/1.1" 200 1',
      '192.0.2.1 - - [24/Nov/2026:10:00:00 +0000] "\\x16\\x03" 400 0',
    ])
      expect(readLogLine(line)).toBeUndefined()
  })
  it('leaves a line as long as the largest log unread, and reads what stands around it', () => {
    const line = '192.0.2.1 - - [24/Nov/2026:10:00:00 +0000] "GET /survey HTTP/1.1" 200 1'
    for (const endless of ['a', '\\', '"\\" ', '[', ' "'].map((piece) => piece.repeat(32_000_000 / piece.length)))
      expect(readAccessLog(`${line}\n${line.slice(0, 60)}${endless}\n${line}`, 10)).toMatchObject({
        lines: 3,
        unread: 1,
        requests: 2,
        paths: [{ path: '/survey', visits: 2 }],
      })
  })
  it('sums up pages, without queries, files beside them and errors', () => {
    const line = (request: string, status = 200, minute = 0) =>
      `192.0.2.1 - - [24/Nov/2026:10:${String(minute).padStart(2, '0')}:00 +0000] "${request} HTTP/1.1" ${status} 1`
    const told = readAccessLog(
      [
        line('GET /survey?a=1'),
        line('GET /survey', 304, 5),
        line('GET /panel', 301),
        line('GET /style.css'),
        line('GET /gone', 404),
        line('POST /survey'),
        line('GET /'),
        'junk',
        '',
      ].join('\r\n'),
      10,
    )
    expect(told).toEqual({
      lines: 8,
      unread: 1,
      requests: 3,
      paths: [
        { path: '/survey', visits: 2, lastAt: Date.UTC(2026, 10, 24, 10, 5) },
        { path: '/panel', visits: 1, lastAt: Date.UTC(2026, 10, 24, 10) },
      ],
    })
  })
  it('comes through hostile lines', () => {
    // Quadratic matching would not come to an end here.
    expect(readAccessLog(`a b "${'\\"'.repeat(200_000)}\n`.repeat(3) + '"'.repeat(300_000), 10)).toMatchObject({
      lines: 4,
      unread: 4,
      paths: [],
    })
  })
})

describe('renewal prices', () => {
  it('add the first year once', () => {
    expect(fiveYearTotal(0.99, 28.5)).toBe(114.99)
    expect(fiveYearTotal(null, 28.5)).toBeUndefined()
    expect(fiveYearTotal(0, 0)).toBe(0)
  })
})

describe('the next thing to do', () => {
  const now = new Date('2026-11-24T12:00:00Z')
  const beside = { links: 12, cases: 0, lookedAt: now, known: true, everyoneBy: null, reached: false }
  it.each([
    ['not-proved', { known: false, lookedAt: null }, 'Wait for the first check', null],
    ['not-proved', { known: false }, 'Read its zone', 'records'],
    ['not-proved', {}, 'Place the ownership record', 'records'],
    ['proved', {}, 'Point the address here', 'records'],
    ['spreading', { everyoneBy: new Date(now.getTime() + 1) }, 'Wait for DNS caches to expire', null],
    ['spreading', {}, 'Wait until it reaches the gateway', null],
    ['spreading', { reached: true }, 'Open it for 12 waiting links', 'records'],
    ['open', {}, '', null],
    ['open', { cases: 1 }, 'Settle one case', 'docket'],
    ['drifted', {}, 'Restore its records', 'records'],
  ] as const)('%s with %j: %s', (standing, more, next, nextAt) =>
    expect(nextStep({ standing }, { ...beside, ...more }, now)).toEqual({ next, nextAt }),
  )
})
