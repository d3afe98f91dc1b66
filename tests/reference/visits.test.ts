// RFC 7239, Forwarded HTTP Extension; RFC 9110 §12.5.4, Accept-Language; W3C/WHATWG Sec-Purpose.
import { describe, expect, it } from 'vitest'
import { agentKind, firstLanguage, forwardedAddress, readDevice, referrerHost, visitKind } from '../../core/visits'

const nobody = () => false
describe('RFC 7239 §4 and §6, the standard’s examples', () => {
  it.each([
    ['for=192.0.2.43', '192.0.2.43'],
    ['For="[2001:db8:cafe::17]:4711"', '2001:db8:cafe::17'],
    ['for=192.0.2.60;proto=http;by=203.0.113.43', '192.0.2.60'],
    ['for=192.0.2.43, for=198.51.100.17', '198.51.100.17'],
    ['for=_gazonk', undefined],
    ['for=unknown', undefined],
  ])('%s', (forwarded, address) => expect(forwardedAddress({ forwarded }, nobody)).toBe(address))

  it('passes over our own proxies from the right', () => {
    expect(forwardedAddress({ forwarded: 'for=192.0.2.43, for=198.51.100.17' }, (hop) => hop === '198.51.100.17')).toBe(
      '192.0.2.43',
    )
    expect(
      forwardedAddress({ xForwardedFor: '192.0.2.1, 203.0.113.9:4711, 10.0.0.1' }, (hop) => hop === '10.0.0.1'),
    ).toBe('203.0.113.9')
  })
})

describe('RFC 9110 §12.5.4', () => {
  it.each([
    ['da, en-gb;q=0.8, en;q=0.7', 'da'], // the standard's example
    ['en;q=0.5, pt-PT', 'pt'],
    ['*;q=0.9, de;q=0.2', 'de'],
    ['', ''],
    [undefined, ''],
  ])('%s → %s', (field, language) => expect(firstLanguage(field)).toBe(language))
})

describe('what a visit is', () => {
  const person = 'Mozilla/5.0 (X11; Linux x86_64; rv:132.0) Gecko/20100101 Firefox/132.0'
  it.each([
    ['a GET that was redirected', { method: 'GET', redirected: true, userAgent: person, purpose: '' }, 'visit'],
    ['HEAD', { method: 'HEAD', redirected: true, userAgent: person, purpose: '' }, 'head'],
    [
      'Sec-Purpose: prefetch',
      { method: 'GET', redirected: true, userAgent: person, purpose: 'prefetch;anonymous-client-ip' },
      'prefetch',
    ],
    [
      'a declared robot',
      { method: 'GET', redirected: true, userAgent: 'Harvestbot/2.1 (+http://crawler.test)', purpose: '' },
      'robot',
    ],
    ['a link preview', { method: 'GET', redirected: true, userAgent: 'Chat-LinkPreview/1.0', purpose: '' }, 'preview'],
    ['no user agent', { method: 'GET', redirected: true, userAgent: '', purpose: '' }, 'robot'],
    ['POST', { method: 'POST', redirected: true, userAgent: person, purpose: '' }, 'other-method'],
    ['a page of our own', { method: 'GET', redirected: false, userAgent: person, purpose: '' }, 'page'],
  ] as const)('%s', (_name, { userAgent, ...facts }, kind) =>
    expect(visitKind({ ...facts, agent: agentKind(userAgent) })).toBe(kind),
  )

  it('reads device, system and browser, and survives nonsense', () => {
    expect(readDevice(person)).toEqual({ device: 'desktop', system: 'Linux', browser: 'Firefox' })
    expect(readDevice('')).toEqual({ device: '', system: '', browser: '' })
    expect(readDevice('\u0000(((')).toMatchObject({ device: '' })
  })
  it('keeps a referrer’s host only', () => {
    expect(referrerHost('https://mail.test/inbox?secret=1')).toBe('mail.test')
    expect(referrerHost('about:blank')).toBe('')
  })
})
