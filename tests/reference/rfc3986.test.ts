// RFC 3986, Uniform Resource Identifier (URI): Generic Syntax. The examples are the standard's own.
import { describe, expect, it } from 'vitest'
import { decodePath, readSlug, removeDotSegments } from '../../core/address'

describe('RFC 3986 §5.2.4, the worked example', () => {
  it.each([
    ['/a/b/c/./../../g', '/a/g'],
    ['mid/content=5/../6', 'mid/6'],
  ])('%s', (input, output) => {
    expect(removeDotSegments(input)).toBe(output)
  })
})

// Base http://a/b/c/d;p?q: a relative path merges to /b/c/ and itself (§5.2.3); absolute ones stand alone.
describe('RFC 3986 §5.4, paths of the resolution examples', () => {
  it.each([
    // §5.4.1 normal examples
    ['/b/c/g', '/b/c/g'],
    ['/b/c/./g', '/b/c/g'],
    ['/b/c/g/', '/b/c/g/'],
    ['/g', '/g'],
    ['/b/c/;x', '/b/c/;x'],
    ['/b/c/g;x', '/b/c/g;x'],
    ['/b/c/.', '/b/c/'],
    ['/b/c/./', '/b/c/'],
    ['/b/c/..', '/b/'],
    ['/b/c/../', '/b/'],
    ['/b/c/../g', '/b/g'],
    ['/b/c/../..', '/'],
    ['/b/c/../../', '/'],
    ['/b/c/../../g', '/g'],
    // §5.4.2 abnormal examples
    ['/b/c/../../../g', '/g'],
    ['/b/c/../../../../g', '/g'],
    ['/./g', '/g'],
    ['/../g', '/g'],
    ['/b/c/g.', '/b/c/g.'],
    ['/b/c/.g', '/b/c/.g'],
    ['/b/c/g..', '/b/c/g..'],
    ['/b/c/..g', '/b/c/..g'],
    ['/b/c/./../g', '/b/g'],
    ['/b/c/./g/.', '/b/c/g/'],
    ['/b/c/g/./h', '/b/c/g/h'],
    ['/b/c/g/../h', '/b/c/h'],
    ['/b/c/g;x=1/./y', '/b/c/g;x=1/y'],
    ['/b/c/g;x=1/../y', '/b/c/y'],
  ])('%s → %s', (merged, expected) => {
    expect(removeDotSegments(merged)).toBe(expected)
    // The URL Standard's parser, as an independent implementation.
    expect(new URL(merged, 'http://a/').pathname).toBe(expected)
  })
})

describe('RFC 3986 §6.2.2, syntax-based normalisation', () => {
  it('the example of §6.2.2: /./b/../b/%63/%7bfoo%7d is b/c/%7Bfoo%7D', () => {
    const same = { capitalsMatter: true, trailingSlashMatters: false }
    expect(readSlug('/./b/../b/%63/%7bfoo%7d', same)).toMatchObject({ canonical: 'b/c/%7Bfoo%7D' })
  })
  it('§6.2.2.1: hexadecimal digits are upper-cased: %3a is %3A', () => {
    expect(decodePath('/%3a')).toEqual({ ok: true, text: '/%3A' })
  })
  it(
    '§2.3 and §6.2.2.2: ALPHA, DIGIT, hyphen, period, underscore and tilde are decoded, nothing else of ' + 'ASCII is',
    () => {
      for (let code = 0x21; code < 0x7f; code++) {
        const escape = '%' + code.toString(16).toUpperCase()
        const character = String.fromCharCode(code)
        expect(decodePath('/' + escape)).toEqual({
          ok: true,
          text: '/' + (/[A-Za-z0-9\-._~]/.test(character) ? character : escape),
        })
      }
    },
  )
})
