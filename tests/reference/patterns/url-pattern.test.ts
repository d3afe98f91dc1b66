import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { URLPattern } from 'urlpattern-polyfill'
import { makeMatcher, readPattern } from '../../../core/patterns'

const SEED = Number(process.env.FC_SEED ?? 4117)

/** What our own reading captures of a path, or undefined where it does not match. */
function ours(pattern: string, path: string): Record<string, string> | undefined {
  const reading = readPattern('path', pattern, false)
  if (!reading.ok) throw new Error(reading.sentence)
  const captured = makeMatcher(reading.pattern, true).match(path.slice(1))
  return (
    captured && Object.fromEntries([...reading.pattern.captures.keys()].map((name) => [name, captured(name) ?? '']))
  )
}

// The pathname examples of the URL Pattern Standard's introduction (urlpattern.spec.whatwg.org §1.2, “Pattern strings”
// and §1.1, “Examples”; quoted from memory): what matches, and what is captured.
const EXAMPLES: [pattern: string, path: string, captured: Record<string, string> | undefined][] = [
  ['/books', '/books', {}],
  ['/books', '/books/123', undefined],
  ['/books/:id', '/books/123', { id: '123' }],
  ['/books/:id', '/books/', undefined],
  ['/books/:id(\\d+)', '/books/123', { id: '123' }],
  ['/books/:id(\\d+)', '/books/abc', undefined],
  ['/blog/:title(\\w+)', '/blog/our_greatest_product_debug_story', { title: 'our_greatest_product_debug_story' }],
  ['/product/:id?', '/product', { id: '' }],
  ['/product/:id?', '/product/4', { id: '4' }],
  ['/product/:id+', '/product/some/4', { id: 'some/4' }],
  ['/product/:id+', '/product', undefined],
  ['/product/:id*', '/product', { id: '' }],
  ['/product/:id*', '/product/a/b', { id: 'a/b' }],
  ['/images/*', '/images/', { 0: '' }],
  ['/images/*', '/images/a/b.png', { 0: 'a/b.png' }],
  ['/images/*.png', '/images/a.png', { 0: 'a' }],
  ['/book{s}?', '/book', {}],
  ['/book{s}?', '/books', {}],
  ['/{foo/}?bar', '/foo/bar', {}],
  ['/:foo{-:bar}?', '/a-b', { foo: 'a', bar: 'b' }],
  ['/(foo|bar)', '/bar', { 0: 'bar' }],
  ['/([^\\/]+?)', '/foo', { 0: 'foo' }],
  ['/a\\:b', '/a:b', {}],
]

describe('URL Pattern pathnames', () => {
  it.each(EXAMPLES)('%s and %s (the standard’s examples)', (pattern, path, captured) => {
    if (captured === undefined) expect(ours(pattern, path)).toBeUndefined()
    else expect(ours(pattern, path)).toEqual(captured)
  })

  it('match what an independent implementation matches, and capture the same (npm urlpattern-polyfill)', () => {
    const part = fc.constantFrom(
      'a',
      'b',
      'ab',
      ':x',
      ':y(\\d+)',
      ':z([ab]+)',
      '*',
      ':w?',
      ':v*',
      ':u+',
      '{-b}?',
      '{a/}?',
      '(a|b)',
      '1',
    )
    const pattern = fc.array(part, { minLength: 1, maxLength: 3 }).map((parts) => '/' + parts.join('/'))
    // The implementation misreads paths that begin with two slashes; they are left to the standard's own regular
    // expression below.
    const path = fc
      .array(fc.constantFrom('a', 'b', 'ab', '1', '12', 'b1', 'a-b', ''), { minLength: 1, maxLength: 4 })
      .map((parts) => '/' + parts.join('/'))
      .filter((text) => !text.startsWith('//'))
    let matched = 0
    fc.assert(
      fc.property(pattern, path, (source, text) => {
        let theirs: URLPattern
        try {
          theirs = new URLPattern({ pathname: source })
        } catch {
          // Two parts of one name, for one: ours refuses what theirs refuses.
          return !readPattern('path', source, false).ok
        }
        const found = theirs.exec(`https://ansl.example${text}`)
        const own = ours(source, text)
        if (found) matched++
        if (!found || !own) return !found === !own
        return Object.entries(found.pathname.groups).every(([name, value]) => (value ?? '') === own[name])
      }),
      { numRuns: 20_000, seed: SEED },
    )
    expect(matched).toBeGreaterThan(1000)
  })

  // URL Pattern §2.2.3, generate a regular expression: “/*/a” is ^(?:/(.*))/a$, “/:x?/a” is ^(?:/([^/]+?))?/a$.
  it.each([
    ['/*/a', /^(?:\/(.*))\/a$/],
    ['/:x?/a', /^(?:\/([^/]+?))?\/a$/],
    ['/*', /^(?:\/(.*))$/],
  ] as const)('%s is as the standard’s regular expression on two slashes', (source, standard) => {
    for (const path of ['//a', '//', '/a', '//a/a', '///a'])
      expect(ours(source, path) !== undefined, path).toBe(standard.test(path))
  })

  it.each(['/a{', '/a}', '/a(', '/:', '/a(?:b)', '/a(b(c))', '/é(é)', '/:a/:a', '/+a', '/a()'])(
    '%s is refused, as the standard does',
    (source) => {
      expect(readPattern('path', source, false)).toMatchObject({ ok: false, sentence: expect.stringMatching(/[.”]$/) })
      expect(() => new URLPattern({ pathname: source })).toThrow()
    },
  )
  // The standard's tokenizer refuses it; the implementation above lets it pass.
  it('a backslash at the end is refused (URL Pattern §2.1.2, tokenize)', () =>
    expect(readPattern('path', '/a\\', false).ok).toBe(false))
})
