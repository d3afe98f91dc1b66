import { describe, expect, it } from 'vitest'
import { answer } from '../../../core/table'
import { readFields } from '../../../gateway/fields'
import { createNap } from '../../../environment/nap'
import { markup } from '../../../core/pages'
import { ownPage, redirectNote } from '../../../gateway/pages'
import { domainRow, tableOf } from '../table/rows'

describe('readFields', () => {
  it('reads what the gateway looks at, whatever the capitals', () => {
    expect(
      readFields([
        'HOST',
        'ansl.example',
        'user-agent',
        'Test/1',
        'Accept-Language',
        'pt',
        'REFERER',
        'https://a.test/',
        'Forwarded',
        'for=192.0.2.1',
        'X-Forwarded-For',
        '192.0.2.2',
        'Sec-Purpose',
        'prefetch',
        'Sec-GPC',
        '1',
        'SEC-CH-UA-MOBILE',
        '?0',
        'Sec-CH-UA-Platform',
        '"Linux"',
      ]),
    ).toEqual({
      host: 'ansl.example',
      hostDoubled: false,
      userAgent: 'Test/1',
      acceptLanguage: 'pt',
      referer: 'https://a.test/',
      forwarded: 'for=192.0.2.1',
      xForwardedFor: '192.0.2.2',
      purpose: 'prefetch',
      gpc: true,
      mobileHint: '?0',
      platformHint: '"Linux"',
      largeBody: false,
    })
  })
  it.each([
    [['Host', 'a.example', 'host', 'b.example'], { host: 'a.example', hostDoubled: true }],
    [['Host', ''], { host: '', hostDoubled: false }],
    [[], { host: undefined, userAgent: '' }],
    [['Purpose', 'preview'], { purpose: 'preview' }],
    [['Content-Length', '12'], { largeBody: false }],
    [['Content-Length', '70000'], { largeBody: true }],
    [['Transfer-Encoding', 'chunked'], { largeBody: true }],
    // Names of the same length that are none of these.
    [
      ['Cost', 'x', 'Cookies', 'y', 'If-Unless', 'z', 'Connection', 'close'],
      { host: undefined, referer: '', forwarded: undefined, userAgent: '' },
    ],
  ])('%j', (raw, expected) => {
    expect(readFields(raw)).toMatchObject(expected)
  })
})

describe('pages', () => {
  const NOW = Date.UTC(2026, 10, 23)
  const page = (link: object, target = '/fares', domain: object = {}) =>
    ownPage(answer(tableOf([link], domain), { method: 'GET', host: 'ansl.example', target }, NOW), domainRow(domain))

  it.each([
    ['an unknown address', page({}, '/nite'), 'Address not found'],
    ['a paused link', page({ standing: 'paused' }), 'switched off at the moment'],
    [
      'a link paused for a minute',
      page({ standing: 'paused', resumesAt: NOW + 60_000 }),
      'Available again in 1 minute.',
    ],
    [
      'a link paused for an hour',
      page({ standing: 'paused', resumesAt: NOW + 3_600_000 }),
      'Available again in 60 minutes.',
    ],
    [
      'a link paused for a day',
      page({ standing: 'paused', resumesAt: NOW + 86_400_000 }),
      'Available again in 24 hours.',
    ],
    [
      'a link paused for a week',
      page({ standing: 'paused', resumesAt: NOW + 7 * 86_400_000 }),
      'Available again in 7 days.',
    ],
    ['an ended link', page({ standing: 'ended' }), 'no longer in use'],
    ['a retired link', page({ standing: 'retired' }), 'has been withdrawn'],
    ['a bad address', page({}, '/%zz'), 'Invalid address'],
    ['the bare domain', page({}, '/'), 'Short addresses only'],
  ])('%s is told in plain words', (_name, text, words) => {
    expect(text).toContain(words)
    expect(text).toContain('<html lang="en">')
  })
  it('speaks of capitals only where they matter', () => {
    expect(page({}, '/nite', { capitalsMatter: true })).toContain('Capital and small letters are different')
    expect(page({}, '/nite', { capitalsMatter: false })).not.toContain('Capital and small letters are different')
  })
  it('shows the domain’s own name, in its letters', () => {
    expect(page({}, '/nite', { host: 'ansl.example' })).toContain('ansl.example')
    expect(
      ownPage(
        answer(
          tableOf([], { host: 'xn--bcher-kva.example' }),
          { method: 'GET', host: 'xn--bcher-kva.example', target: '/x' },
          NOW,
        ),
        domainRow({ host: 'xn--bcher-kva.example' }),
      ),
    ).toContain('bücher.example')
  })
  it('escapes what could be markup', () => {
    expect(markup`${`<a href="x">'&`}`.text).toBe('&lt;a href=&quot;x&quot;&gt;&#39;&amp;')
    expect(redirectNote('https://x.example/?a="><script>')).not.toContain('<script>')
  })
})

describe('createNap', () => {
  it('ends at its time or when woken', async () => {
    const nap = createNap()
    nap.wake()
    await nap.sleep(1)
    const long = nap.sleep(60_000)
    nap.wake()
    await long
  })
})
