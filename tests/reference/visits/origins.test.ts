// RFC 4291 §2.2: text forms of IPv6 addresses. Where pages come from is common practice, no source.
import { describe, expect, it } from 'vitest'
import { agentKind, networkOf, privacyText, readDevice, referrerKind } from '../../../core/visits'

describe('the network of an address', () => {
  it.each([
    ['192.0.2.77', '192.0.2.0/24'],
    // The forms of RFC 4291 §2.2.
    ['ABCD:EF01:2345:6789:ABCD:EF01:2345:6789', 'abcd:ef01:2345::/48'],
    ['2001:DB8:0:0:8:800:200C:417A', '2001:db8:0::/48'],
    ['2001:DB8::8:800:200C:417A', '2001:db8:0::/48'],
    ['FF01::101', 'ff01:0:0::/48'],
    ['::1', '0:0:0::/48'],
    ['::', '0:0:0::/48'],
    ['fe80::1%eth0', 'fe80:0:0::/48'],
    ['unknown', ''],
    ['1:2:3', ''],
    ['2001:db8:zz::1', ''],
    ['', ''],
  ])('%s is %s', (address, network) => expect(networkOf(address)).toBe(network))
})

describe('the kind of a referrer', () => {
  const own = new Set(['ansl.example', 'portansel.example'])
  it.each([
    ['', 'none'],
    ['www.google.com', 'search'],
    ['www.google.co.uk', 'search'],
    ['google.pt', 'search'],
    ['mail.google.com', 'mail'],
    ['duckduckgo.com', 'search'],
    ['m.facebook.com', 'social'],
    ['t.co', 'social'],
    ['web.whatsapp.com', 'chat'],
    ['www.portansel.example', 'internal'],
    ['ansl.example', 'internal'],
    ['notgoogle.example', 'other'],
    ['google.evil.example', 'other'],
    ['t.co.evil.example', 'other'],
    ['news.example', 'other'],
    ['localhost', 'other'],
  ])('%s is %s', (host, kind) => expect(referrerKind(host, own)).toBe(kind))
})

describe('the text for a privacy page', () => {
  const facts = {
    organisation: 'Port Ansel Transit',
    hosts: ['ansl.example'],
    visitDays: 90,
    keepNetwork: false,
    honourGpc: true,
    fewPeople: 5,
  }
  it('says what is so, and nothing else', () => {
    const text = privacyText(facts)
    for (const part of ['Port Ansel Transit', 'ansl.example', '90 days', 'never kept', 'without a token', '5 people'])
      expect(text).toContain(part)
    const other = privacyText({ ...facts, keepNetwork: true, honourGpc: false, fewPeople: 1, hosts: [] })
    for (const part of ['never kept.', 'without a token', '5 people']) expect(other).not.toContain(part)
    for (const part of ['/24', '/48', 'without a minimum']) expect(other).toContain(part)
  })
})

const WEBKIT = 'AppleWebKit/605.1.15 (KHTML, like Gecko)'
const BLINK = 'AppleWebKit/537.36 (KHTML, like Gecko)'

describe('devices', () => {
  // User agents as the browsers’ own documents give them (MDN, “User-Agent”); read by bowser.
  it.each([
    [
      `Mozilla/5.0 (iPhone; CPU iPhone OS 17_5 like Mac OS X) ${WEBKIT} Version/17.5 Mobile/15E148 Safari/604.1`,
      { device: 'mobile', system: 'iOS', browser: 'Safari' },
    ],
    [
      'Mozilla/5.0 (Linux; Android 10; K) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/130.0.0.0 Mobile Safari/537.36',
      { device: 'mobile', system: 'Android', browser: 'Chrome' },
    ],
    [
      `Mozilla/5.0 (Windows NT 10.0; Win64; x64) ${BLINK} Chrome/130.0.0.0 Safari/537.36 Edg/130.0.0.0`,
      { device: 'desktop', system: 'Windows', browser: 'Microsoft Edge' },
    ],
    [
      `Mozilla/5.0 (iPad; CPU OS 12_5 like Mac OS X) ${WEBKIT} Version/12.1 Mobile/15E148 Safari/604.1`,
      { device: 'tablet', system: 'iOS', browser: 'Safari' },
    ],
  ])('%s', (agent, device) => {
    expect(readDevice(agent)).toEqual(device)
    expect(agentKind(agent)).toBe('person')
  })
  it('are known by hints where the user agent says less (User-Agent Client Hints, WICG §3.4, §3.6)', () => {
    const reduced =
      'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/130.0.0.0 Safari/537.36'
    expect(readDevice(reduced, { mobile: '?0', platform: '"Chrome OS"' })).toMatchObject({
      device: 'desktop',
      system: 'Chrome OS',
    })
    expect(readDevice(reduced, { mobile: '?1', platform: '"Android"' })).toMatchObject({
      device: 'mobile',
      system: 'Android',
    })
    expect(readDevice(reduced, { mobile: '', platform: '"Made up"' })).toMatchObject({ system: 'Linux' })
  })
})
