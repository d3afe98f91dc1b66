import { describe, expect, it } from 'vitest'
import {
  composeLocation,
  destinationKey,
  mergeQueries,
  readDestination,
  readTypedAddress,
  tidyDestination,
} from '../../../core/address'

describe('composeLocation', () => {
  const at = 'https://www.example/p?a=1&b=2#part'
  it.each([
    ['discard', 'destination', 'a=9&c=3', at],
    ['carry', 'destination', '', at],
    ['carry', 'destination', 'a=9&c=3', 'https://www.example/p?a=1&b=2&c=3#part'],
    ['carry', 'visitor', 'a=9&c=3', 'https://www.example/p?b=2&a=9&c=3#part'],
    ['carry', 'both', 'a=9&c=3', 'https://www.example/p?a=1&b=2&a=9&c=3#part'],
    ['carry', 'destination', '%61=9', 'https://www.example/p?a=1&b=2#part'],
    ['carry', 'destination', 'c=%E4%2f&d', 'https://www.example/p?a=1&b=2&c=%E4%2f&d#part'],
    ['carry', 'destination', 'c=1?x', 'https://www.example/p?a=1&b=2&c=1?x#part'],
    ['carry', 'destination', 'c=\u00e9', 'https://www.example/p?a=1&b=2&c=%C3%A9#part'],
    ['carry', 'destination', 'c=\r\nX: y', 'https://www.example/p?a=1&b=2&c=%0D%0AX:%20y#part'],
  ] as const)('%s, %s wins, visitor asks ?%s', (policy, conflict, query, location) => {
    expect(composeLocation(at, query, policy, conflict)).toBe(location)
  })

  it('adds a query before the fragment where the destination has none', () => {
    expect(composeLocation('https://www.example/#top', 'x=1', 'carry', 'destination')).toBe(
      'https://www.example/?x=1#top',
    )
    expect(composeLocation('https://www.example', 'x=1', 'carry', 'destination')).toBe('https://www.example?x=1')
  })

  it('keeps order, doubles and empty pieces of what it keeps', () => {
    expect(mergeQueries('z=1&&a=2', 'q&q=&z=5', 'destination')).toBe('z=1&&a=2&q&q=')
    expect(mergeQueries('a=1', '%zz=1', 'visitor')).toBe('a=1&%zz=1')
  })
})

describe('readDestination', () => {
  it.each([
    ['https://www.example/a%2fb?x=%7E', 'https://www.example/a%2fb?x=%7E'],
    ['  https://www.example/ ', 'https://www.example/'],
    ['https://www.example/ü x', 'https://www.example/%C3%BC%20x'],
    ['https://bücher.example/', 'https://xn--bcher-kva.example/'],
    ['http://192.0.2.7:8080/x', 'http://192.0.2.7:8080/x'],
    ['http://[2001:db8::1]/x', 'http://[2001:db8::1]/x'],
  ])('keeps %s', (typed, destination) => {
    expect(readDestination(typed)).toMatchObject({ ok: true, destination })
  })

  it.each([
    ['', 'empty'],
    ['www.example', 'not-a-url'],
    ['https:/www.example', 'not-a-url'],
    ['javascript:alert(1)', 'scheme'],
    ['data:text/html,x', 'scheme'],
    ['ftp://files.example/', 'scheme'],
    ['https://user:pw@www.example/', 'user-info'],
    ['https://@www.example/', 'user-info'],
    ['https://' + 'x'.repeat(70) + '.example/', 'not-a-host'],
    ['https://www.example/' + 'x'.repeat(8000), 'too-long'],
  ])('refuses %s', (typed, reason) => {
    expect(readDestination(typed)).toMatchObject({ ok: false, reason })
  })

  it('takes an app scheme only where it is listed', () => {
    expect(readDestination('portansel:stop/4417', ['portansel']).ok).toBe(true)
    expect(readDestination('portansel:stop/4417').ok).toBe(false)
  })

  it('knows twins whatever their spelling', () => {
    const key = destinationKey('https://www.example/~a?x=1')
    for (const twin of [
      'HTTPS://WWW.EXAMPLE/%7Ea?x=1',
      'https://www.example:443/%7ea?x=1',
      'https://www.example/b/../~a?x=1',
    ])
      expect(destinationKey(twin)).toBe(key)
    expect(destinationKey('https://www.example/~a?x=2')).not.toBe(key)
  })
})

describe('tidyDestination', () => {
  it.each([
    ['  https://a.example/x \n', 'https://a.example/x', ['line-breaks', 'spaces']],
    ['https://a.example/\u200Bx\uFEFF', 'https://a.example/x', ['invisible']],
    ['<https://a.example/x>', 'https://a.example/x', ['wrapping']],
    ['www.a.example/x', 'https://www.a.example/x', ['scheme']],
    ['//a.example/x', 'https://a.example/x', ['scheme']],
    ['https://a.example/long/\r\n  path', 'https://a.example/long/path', ['line-breaks']],
    ['https://a.example/', 'https://a.example/', []],
    ['fares', 'fares', []],
    ['javascript:alert(1)', 'javascript:alert(1)', []],
  ])('tidies %j', (pasted, text, notes) => {
    expect(tidyDestination(pasted)).toEqual({ text, notes })
  })
})

describe('readTypedAddress', () => {
  it.each([
    ['ansl.example/fares', 'ansl.example', '/fares'],
    ['https://ANSL.example/Night?utm=1#x', 'ANSL.example', '/Night?utm=1'],
    ['/fares', undefined, '/fares'],
    ['ansl.example', 'ansl.example', '/'],
    ['ansl.example?x=1', 'ansl.example', '/?x=1'],
    ['ansl.example/straße', 'ansl.example', '/stra%C3%9Fe'],
  ])('reads %s', (typed, host, target) => {
    expect(readTypedAddress(typed)).toEqual({ ok: true, host, target })
  })
  it('refuses other schemes and nothing at all', () => {
    expect(readTypedAddress('ftp://x')).toEqual({ ok: false, reason: 'scheme' })
    expect(readTypedAddress('  ')).toEqual({ ok: false, reason: 'empty' })
  })
})
