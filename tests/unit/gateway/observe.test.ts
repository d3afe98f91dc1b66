import { BlockList } from 'node:net'
import { describe, expect, it } from 'vitest'
import { Admission } from '../../../core/misses'
import { readEvent } from '../../../core/visits'
import { openCountries } from '../../../gateway/country'
import { readFields } from '../../../gateway/fields'
import { createObserver } from '../../../gateway/observe'
import { answer } from '../../../core/table'
import { tableOf } from '../table/rows'

const NOW = Date.UTC(2026, 10, 23)
const proxies = new BlockList()
proxies.addAddress('127.0.0.1', 'ipv4')
let secret = Buffer.alloc(32, 1)
let privacy = { honourGpc: true, keepNetwork: false }
const observe = createObserver({
  admission: new Admission(),
  secretAt: () => secret,
  countryOf: (address) => (address === '192.0.2.1' ? 'PT' : ''),
  trustedProxies: proxies,
  privacy: () => privacy,
})

function see(headers: Record<string, string>, remoteAddress = '192.0.2.1', target = '/fares') {
  const given = answer(tableOf([{}]), { method: 'GET', host: 'ansl.example', target }, NOW)
  return readEvent(observe({ remoteAddress }, 'GET', readFields(Object.entries(headers).flat()), given, NOW)!)!
}
const agent = { 'user-agent': 'Mozilla/5.0 (X11; Linux x86_64; rv:132.0) Gecko/20100101 Firefox/132.0' }

describe('observe', () => {
  it('keeps what a visit is kept as, and never the address', () => {
    const event = see({ ...agent, referer: 'https://mail.test/inbox/1', 'accept-language': 'pt-PT' })
    expect(event).toMatchObject({
      kind: 'visit',
      linkId: 1,
      path: '',
      referrer: 'mail.test',
      language: 'pt',
      country: 'PT',
      device: 'desktop',
      browser: 'Firefox',
    })
    expect(JSON.stringify(event)).not.toContain('192.0.2.1')
  })
  it('keeps the path only where no link answered', () => {
    expect(see(agent, undefined, '/nite')).toMatchObject({ kind: 'page', linkId: 0, path: 'nite' })
  })
  it('tells visitors apart within a day, and no longer', () => {
    const one = see(agent).visitor
    expect(see(agent).visitor).toBe(one)
    expect(see(agent, '192.0.2.2').visitor).not.toBe(one)
    expect(see({ 'user-agent': 'Other/1.0' }).visitor).not.toBe(one)
    secret = Buffer.alloc(32, 2)
    expect(see(agent).visitor).not.toBe(one)
  })
  it('believes Forwarded only from our own proxies', () => {
    const direct = see(agent, '192.0.2.1').visitor
    expect(see({ ...agent, forwarded: 'for=192.0.2.1' }, '127.0.0.1').visitor).toBe(direct)
    expect(see({ ...agent, 'x-forwarded-for': '192.0.2.1' }, '::ffff:127.0.0.1').visitor).toBe(direct)
    expect(see({ ...agent, forwarded: 'for=192.0.2.1' }, '198.51.100.9').visitor).not.toBe(direct)
  })
})

describe('openCountries', () => {
  it('knows no country for addresses reserved for documentation (RFC 5737)', async () => {
    const countryOf = await openCountries()
    expect(countryOf('192.0.2.1')).toBe('')
    expect(countryOf('nonsense')).toBe('')
  })
})

describe('what is kept of a visitor', () => {
  it('counts who asks not to be tracked without a token, where the organisation honours that', () => {
    expect(see({ ...agent, 'sec-gpc': '1' }).visitor).toBe('')
    expect(see({ ...agent, 'sec-gpc': '0' }).visitor).not.toBe('')
    privacy = { honourGpc: false, keepNetwork: false }
    expect(see({ ...agent, 'sec-gpc': '1' }).visitor).not.toBe('')
  })
  it('keeps the network where the organisation wants it, and of who asks not to be tracked not even that', () => {
    privacy = { honourGpc: true, keepNetwork: true }
    expect(see(agent).network).toBe('192.0.2.0/24')
    expect(see(agent, '2001:db8:1:2::3').network).toBe('2001:db8:1::/48')
    expect(see({ ...agent, 'sec-gpc': '1' }).network).toBe('')
    privacy = { honourGpc: true, keepNetwork: false }
    expect(see(agent).network).toBe('')
  })
  it('believes hints of the device beside the user agent', () => {
    // User-Agent Client Hints (WICG) §3.4 and §3.6: a structured boolean, and a string.
    const hinted = see({ ...agent, 'sec-ch-ua-mobile': '?1', 'sec-ch-ua-platform': '"Android"' })
    expect(hinted).toMatchObject({ device: 'mobile', system: 'Android' })
    expect(see({ ...agent, 'sec-ch-ua-platform': 'nonsense' })).toMatchObject({ device: 'desktop', system: 'Linux' })
  })
})
