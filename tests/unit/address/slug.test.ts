import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { canonicalSlug, judgeSlug, readSlug, type Sameness } from '../../../core/address'

const EXACT: Sameness = { capitalsMatter: true, trailingSlashMatters: false }
const FOLDED: Sameness = { capitalsMatter: false, trailingSlashMatters: false }

describe('readSlug', () => {
  it.each([
    ['/fares', EXACT, 'fares', []],
    ['/', EXACT, '', []],
    ['/%66ares', EXACT, 'fares', ['escapes']],
    ['/%7Euser', EXACT, '~user', ['escapes']],
    ['/a%2fb', EXACT, 'a%2Fb', ['escapes']],
    ['/a/./b/../c', EXACT, 'a/c', ['dot-segments']],
    ['/%2e%2e/fares', EXACT, 'fares', ['escapes', 'dot-segments']],
    ['/fares/', EXACT, 'fares', ['trailing-slash']],
    ['/fares/', { ...EXACT, trailingSlashMatters: true }, 'fares/', []],
    ['/fares//', EXACT, 'fares//', []],
    ['/Fares', EXACT, 'Fares', []],
    ['/Fares', FOLDED, 'fares', ['capitals']],
    ['/STRA%C3%9FE', FOLDED, 'strasse', ['escapes', 'capitals']],
    ['/cafe%CC%81', EXACT, 'caf\u00e9', ['escapes', 'unicode']],
    ['/caf%C3%A9', EXACT, 'caf\u00e9', ['escapes']],
    ['/a b', EXACT, 'a%20b', ['escapes']],
    // The hex digits of an escape are no letters: neither folded nor composed with what follows.
    ['/%2f%CC%87', FOLDED, '%2F\u0307', ['escapes']],
    ['//evil.example/', EXACT, '/evil.example', ['trailing-slash']],
  ] as const)('reads %s', (path, sameness, canonical, notes) => {
    expect(readSlug(path, sameness)).toEqual({ ok: true, canonical, notes })
  })

  it.each([
    ['/%', 'malformed-escape'],
    ['/%4', 'malformed-escape'],
    ['/%zz', 'malformed-escape'],
    ['/%00', 'control-character'],
    ['/a%0Db', 'control-character'],
    ['/%C2%85', 'control-character'],
    ['/a\u0007', 'control-character'],
    ['/%FF', 'not-utf8'],
    ['/%C3', 'not-utf8'],
    ['/%ED%A0%80', 'not-utf8'],
  ])('refuses %s', (path, reason) => {
    expect(readSlug(path, EXACT)).toEqual({ ok: false, reason })
  })

  it('gives one canonical form to what the gateway cannot tell apart', () => {
    const forms = ['Night', 'NIGHT', 'night/', 'n%69ght', './night'].map((slug) => canonicalSlug(slug, FOLDED))
    expect(new Set(forms)).toEqual(new Set(['night']))
  })
})

describe('judgeSlug', () => {
  it.each([
    ['fares', undefined],
    ['stop/4417', undefined],
    ['winter-2026_v1.2~', undefined],
    ['überland', undefined],
    ['', { reason: 'empty' }],
    ['a b', { reason: 'character', character: ' ' }],
    ['a?b', { reason: 'character', character: '?' }],
    ['a%20b', { reason: 'character', character: '%' }],
    ['a#b', { reason: 'character', character: '#' }],
    ['a//b', { reason: 'segment' }],
    ['/a', { reason: 'segment' }],
    ['a/../b', { reason: 'segment' }],
    ['.well-known', { reason: 'well-known' }],
    ['.Well-Known/x', { reason: 'well-known' }],
    ['x'.repeat(201), { reason: 'too-long' }],
  ])('judges %s', (slug, refusal) => {
    expect(judgeSlug(slug)).toEqual(refusal)
  })
})

describe('a plain slug', () => {
  it('is read by every domain as it is written', () => {
    const slug = fc.stringMatching(/^[a-z0-9_\-/.%~A-Z]{1,12}$/)
    fc.assert(
      fc.property(slug, fc.boolean(), fc.boolean(), (text, capitalsMatter, trailingSlashMatters) => {
        const sameness = { capitalsMatter, trailingSlashMatters }
        const reading = readSlug('/' + text, sameness)
        expect(canonicalSlug(text, sameness)).toBe(reading.ok ? reading.canonical : undefined)
      }),
      { numRuns: 2000 },
    )
  })
})
