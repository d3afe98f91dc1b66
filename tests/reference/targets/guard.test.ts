// Which addresses a check may connect to: the IANA special-purpose address registries (RFC 6890 and later entries), the
// forms IPv4 addresses take inside IPv6 ones, and hosts as the URL Standard reads them (§3.5, host parsing).
import { createServer, type Server } from 'node:net'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { judge } from '../../../core/targets'
import { isPublicAddress, SPECIAL_PURPOSE } from '../../../server/names/special-purpose'
import { NO_POLITENESS, type Asker } from '../../../server/targets/asker'
import { checkDestination } from '../../../server/targets/check'
import { makeLookUp } from '../../../server/targets/resolve'
import { askHop } from '../../../server/targets/ask-hop'

const octetsOf = (address: string) => address.split('.').map(Number)
const hex = (address: string) => {
  const [a, b, c, d] = octetsOf(address) as [number, number, number, number]
  return `${((a << 8) | b).toString(16)}:${((c << 8) | d).toString(16)}`
}
const FIRST = SPECIAL_PURPOSE.map(([block]) => block.split('/')[0]!)
const FOUR = FIRST.filter((address) => !address.includes(':'))
/** The last address of an IPv4 block. */
const lastOf = (block: string) => {
  const [network, prefix] = block.split('/') as [string, string]
  const value = octetsOf(network).reduce((sum, octet) => sum * 256 + octet, 0) + 2 ** (32 - Number(prefix)) - 1
  return [24, 16, 8, 0].map((shift) => Math.floor(value / 2 ** shift) % 256).join('.')
}

describe('the special-purpose registries', () => {
  it.each(SPECIAL_PURPOSE.map(([block, why]) => [block, why]))('%s (%s) is not public', (block) => {
    expect(isPublicAddress(block.split('/')[0]!)).toBe(false)
    if (!block.includes(':')) expect(isPublicAddress(lastOf(block))).toBe(false)
  })
  it.each(FOUR)('%s is public in none of the forms that carry it', (address) => {
    for (const form of [
      `::ffff:${address}`, // RFC 4291 §2.5.5.2
      `::ffff:${hex(address)}`,
      `64:ff9b::${hex(address)}`, // RFC 6052
      `2002:${hex(address)}::1`, // RFC 3056
      `::${hex(address)}`, // RFC 4291 §2.5.5.1
      `2001:0:${hex('8.8.8.8')}:0:0:${hex(address)}`, // RFC 4380
    ])
      expect(isPublicAddress(form), form).toBe(false)
  })
  it.each([
    '8.8.8.8',
    '1.1.1.1',
    '100.63.255.255',
    '172.32.0.1',
    '192.0.1.1',
    '223.255.255.255',
    '2606:4700::1111',
    '2a00:1450::1',
    '64:ff9b::808:808',
    '2002:808:808::1',
    '::ffff:8.8.8.8',
  ])('%s is public', (address) => expect(isPublicAddress(address)).toBe(true))
  it.each(['', 'example', '1.2.3', '::ffff:1.2.3', '300.1.1.1', 'fe80::1%eth0'])('“%s” is not', (text) =>
    expect(isPublicAddress(text)).toBe(false),
  )
})

describe('a check', () => {
  let listener: Server
  let connections = 0
  let port = 0
  beforeAll(async () => {
    listener = createServer((socket) => {
      connections++
      socket.end('HTTP/1.1 200 OK\r\nContent-Length: 6\r\n\r\nsecret')
    })
    await new Promise<void>((resolve) => listener.listen(0, '127.0.0.1', resolve))
    port = (listener.address() as { port: number }).port
  })
  afterAll(() => listener.close())

  const asker = (more: Partial<Asker> = {}): Asker => ({
    lookUp: makeLookUp({ resolvers: [] } as never),
    mayAsk: (address) => isPublicAddress(address),
    way: (host, at) => ({ host, port: at }),
    turns: NO_POLITENESS,
    userAgent: 'Fides',
    timeoutMs: 1000,
    ...more,
  })
  // URL Standard §3.5: the IPv4 parser takes decimal, octal and hexadecimal numbers, in one to four parts.
  it.each([
    '127.0.0.1',
    '2130706433',
    '0x7f000001',
    '017700000001',
    '127.1',
    '0x7f.1',
    '0177.0.0.1',
    '127.0.0.1.',
    '[::1]',
    '[::ffff:127.0.0.1]',
    '[::ffff:7f00:1]',
    '[0:0:0:0:0:ffff:127.0.0.1]',
    '０x7f.1',
    '[64:ff9b::7f00:1]',
    '[2002:7f00:1::]',
  ])('of http://%s connects to nobody', async (host) => {
    const before = connections
    const { evidence } = await checkDestination(asker(), `http://${host}:${port}/`)
    expect(evidence.hops[0]!.fault?.kind).toBe('not-public')
    expect(judge(evidence)).toMatchObject({ verdict: 'no-answer', final: null })
    expect(connections).toBe(before)
  })
  it('connects to the address it vetted, not to what the name says a moment later', async () => {
    let asked = 0
    const turning = asker({
      lookUp: () => Promise.resolve({ ok: true, addresses: [asked++ === 0 ? '8.8.8.8' : '127.0.0.1'] }),
      // Where the first answer is reached; the listener is where the second one points.
      way: (host) => ({ host: '127.0.0.1', port: host === '8.8.8.8' ? 1 : port }),
    })
    const before = connections
    const first = await askHop(turning, {
      url: `http://turns.example:${port}/`,
      method: 'GET',
      via: 'request',
      cookies: '',
    })
    expect(first.hop).toMatchObject({ address: '8.8.8.8', fault: { kind: 'refused-connection' } })
    const second = await askHop(turning, {
      url: `http://turns.example:${port}/`,
      method: 'GET',
      via: 'request',
      cookies: '',
    })
    expect(second.hop.fault?.kind).toBe('not-public')
    expect(connections).toBe(before)
  })
  it('asks only the public ones of several addresses', async () => {
    const mixed = asker({
      lookUp: () => Promise.resolve({ ok: true, addresses: ['10.0.0.1', '127.0.0.1', '192.168.1.1'] }),
    })
    const before = connections
    const { evidence } = await checkDestination(mixed, `http://mixed.example:${port}/`)
    expect(evidence.hops[0]!.fault?.kind).toBe('not-public')
    expect(connections).toBe(before)
  })
  // Fetch Standard, “port blocking”.
  it.each([0, 22, 25, 6667])('of port %d connects to nobody', async (bad) => {
    const before = connections
    const all = asker({ mayAsk: () => true, way: () => ({ host: '127.0.0.1', port }) })
    const { evidence } = await checkDestination(all, `http://127.0.0.1:${bad}/`)
    expect(evidence.hops[0]!.fault?.kind).toBe('bad-port')
    expect(connections).toBe(before)
  })
  it('asks in a network that was listed', async () => {
    const before = connections
    const { evidence } = await checkDestination(asker({ mayAsk: () => true }), `http://127.0.0.1:${port}/`, {
      alone: true,
    })
    expect(evidence.hops[0]!.status).toBe(200)
    expect(connections).toBe(before + 1)
  })
})
