import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import {
  contrastWith,
  pageLanguage,
  PAGE_KINDS,
  PAGE_LANGUAGES,
  pageSettings,
  visitorPage,
  WORDS,
  type PageKind,
} from '../../../core/pages'

const page = (more: Partial<Parameters<typeof visitorPage>[0]> = {}) =>
  visitorPage({
    kind: 'not-found',
    host: 'ansl.example',
    asked: 'ansl.example/fraes',
    settings: {},
    acceptLanguage: 'en',
    tryAgain: true,
    ...more,
  })
const MAX_OCTETS = 14 * 1024

describe('pages of our own', () => {
  it('are in every language for every kind, small, without script, and marked with their language', () => {
    for (const kind of Object.keys(PAGE_KINDS) as PageKind[])
      for (const language of Object.keys(PAGE_LANGUAGES) as (keyof typeof PAGE_LANGUAGES)[]) {
        const html = page({
          kind,
          acceptLanguage: language,
          likely: { address: 'ansl.example/fares', href: '/fares' },
          others: [1, 2, 3].map((n) => ({
            address: `ansl.example/${'x'.repeat(200)}${n}`,
            href: `/${'x'.repeat(200)}${n}`,
          })),
          settings: { name: 'N'.repeat(60), mark: 'PAT', colour: '#1f5f7a', contact: 'help@ansl.example' },
        })
        expect(html).toContain(`<html lang="${language}">`)
        expect(html).toContain(WORDS[language].pages[kind].heading)
        expect(html).toContain('name="robots" content="noindex"')
        expect(html).not.toMatch(/<script|\son\w+=|javascript:/i)
        expect(Buffer.byteLength(html)).toBeLessThan(MAX_OCTETS)
      }
  })
  it('offer one likely link, and others apart', () => {
    const html = page({
      likely: { address: 'ansl.example/fares', href: '/fares' },
      others: [{ address: 'go.portansel.example/ferry', href: '//go.portansel.example/ferry' }],
    })
    expect(html).toContain('Closest address')
    expect(html).toContain('<a class="o" href="/fares">ansl.example/fares</a>')
    expect(html).toContain('Similar addresses')
  })
  it('say when an address is back', () => {
    expect(page({ kind: 'paused', backAfter: 7200 })).toContain('Available again in 2 hours.')
    expect(page({ kind: 'paused', backAfter: 86_400 * 3, acceptLanguage: 'de' })).toContain('in 3 Tagen')
  })
  it('show what strangers typed as text, whatever it is', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary', maxLength: 120 }), (typed) => {
        const html = page({ asked: `ansl.example/${typed}` })
        expect(html).not.toMatch(/[^\P{Cc}\n]|\p{Cf}/u)
        expect(html.match(/<script/gi)).toBeNull()
        expect(html.split('<code>')[1]!.split('</code>')[0]).not.toContain('<')
      }),
    )
    expect(page({ asked: 'ansl.example/"><script>alert(1)</script>' })).toContain('&quot;&gt;&lt;script&gt;')
  })
  it('stay small whatever was asked', () => {
    expect(Buffer.byteLength(page({ asked: `ansl.example/${'"<'.repeat(4000)}` }))).toBeLessThan(MAX_OCTETS)
  })
  it('take words of the domain before those they come with', () => {
    const settings = { texts: { pt: { 'not-found': { heading: 'Não temos esse endereço' } } } }
    expect(page({ settings, acceptLanguage: 'pt-BR' })).toContain('Não temos esse endereço')
    expect(page({ settings, acceptLanguage: 'pt-BR' })).toContain(WORDS.pt.pages['not-found'].sentence)
    expect(page({ settings, acceptLanguage: 'fr' })).toContain(WORDS.fr.pages['not-found'].heading)
  })
})

describe('the language of a page (RFC 4647 §3.4)', () => {
  it.each([
    ['de-CH, en;q=0.5', undefined, 'de'],
    ['nl, fr;q=0.8, en;q=0.9', undefined, 'en'],
    ['ja', undefined, 'en'],
    ['ja', ['pt', 'es'], 'pt'],
    ['en', ['pt', 'es'], 'pt'],
    ['es-419', ['pt', 'es'], 'es'],
    ['', ['de'], 'de'],
  ] as const)('for “%s” among %s is %s', (field, languages, expected) =>
    expect(pageLanguage(field, languages ? { languages: [...languages] } : {})).toBe(expected),
  )
})

describe('page settings', () => {
  // WCAG 2.2, contrast ratio: black on white is 21 to 1; #767676 on white is 4.54 to 1 (the known border case).
  it('reckon contrast as WCAG does', () => {
    expect(contrastWith('#000000', '#ffffff')).toBeCloseTo(21, 5)
    expect(contrastWith('#767676', '#ffffff')).toBeCloseTo(4.54, 2)
  })
  it.each([
    ['a colour nobody could read', { colour: '#ffee88' }],
    ['a contact that is none', { contact: 'javascript:alert(1)' }],
    ['no language', { languages: [] }],
    ['a language twice', { languages: ['en', 'en'] }],
    ['a page there is not', { texts: { en: { teapot: { heading: 'x' } } } }],
  ])('refuse %s', (_what, input) => expect(pageSettings.safeParse(input).success).toBe(false))
  it('take what is right', () =>
    expect(
      pageSettings.safeParse({ name: 'PAT', colour: '#1F5F7A', contact: '+351 21 000 00 00', languages: ['pt'] })
        .success,
    ).toBe(true))
})
