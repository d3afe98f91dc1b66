import { RE2JS } from 're2js'
import { describe, expect, it } from 'vitest'
import { translateExpression } from '../../../core/formats/regex/translate'
import { literalOf, quotedPath, wholeExpression } from '../../../core/formats/regex/whole'

describe('expressions of Perl’s dialect', () => {
  // Constructs by pcre2pattern(3); that RE2 has none of them: github.com/google/re2/wiki/Syntax.
  it.each([
    ['a(?=b)', 'look-ahead or look-behind', 2],
    ['a(?!b)', 'look-ahead or look-behind', 2],
    ['(?<=a)b', 'look-ahead or look-behind', 1],
    ['(?<!a)b', 'look-ahead or look-behind', 1],
    ['(?>a+)b', 'an atomic group', 1],
    ['a++b', 'a possessive quantifier', 2],
    ['a{2,3}+', 'a possessive quantifier', 2],
    ['(a)\\1', 'a back-reference', 4],
    ['(?<x>a)\\k<x>', 'a back-reference', 8],
    ['(a)\\g{1}', 'a back-reference', 4],
    ['(?P<x>a)(?P=x)', 'a back-reference', 9],
    ['a(?R)?b', 'recursion', 2],
    ['(a)(?1)', 'recursion', 4],
    ['(?(1)a|b)', 'a conditional group', 1],
    ['(?|(a)|(b))', 'a branch reset', 1],
    ['a\\Kb', '\\K', 2],
    ['(*UTF)a', 'a verb of backtracking', 1],
    ['a\\X', 'a sequence of several characters', 2],
  ])('%s is refused by name and place', (source, construct, column) => {
    expect(translateExpression(source)).toMatchObject({ ok: false, construct, column })
  })

  // What both dialects know takes the same texts: JavaScript's expressions stand in for Perl's where they are alike.
  it.each([
    ['^/a(b|c)*d$', ['/ad', '/abcd', '/abd/', 'x/ad']],
    ['/(?<id>\\d{2,4})(?:/.*)?$', ['/12', '/12345', '/1', '/123/x', '/a/99']],
    ['[^/\\]x-]+', ['abc', '/', 'x-', ']']],
    ['[\\w.-]+\\.html?', ['a.htm', 'a-b.html', '.html', 'a.txt']],
    ['\\/a\\-b\\_c', ['/a-b_c', '/a_b-c']],
  ])('%s takes the same texts', (source, texts) => {
    const translated = translateExpression(source)
    if (!translated.ok) throw new Error(translated.sentence)
    const ours = RE2JS.compile(translated.source)
    const theirs = new RegExp(source)
    for (const text of texts) expect(ours.matcher(text).find(), text).toBe(theirs.test(text))
  })

  it('looked for anywhere take whole texts, with their captures where they were', () => {
    const cases: [string, string][] = [
      ['^/old/(.*)$', '/old/(.*)'],
      ['night', '.*?night.*'],
      ['^/a$|^/b$', '(?:/a|/b)'],
      ['\\.php$', '.*?\\.php'],
    ]
    for (const [source, whole] of cases) expect(wholeExpression(source)).toBe(whole)
    expect(wholeExpression('^old$', '/')).toBe('/old')
    // Which of them begins first decides, whatever the order: that cannot be said by bars.
    expect(wholeExpression('b|^/a')).toBeUndefined()
    expect(wholeExpression('(^|/)a', '/')).toBeUndefined()
  })

  it('that take one text are that text', () => {
    expect(literalOf('/old-page')).toEqual({ text: '/old-page', slash: false, dots: false })
    expect(literalOf('/old\\.html/?')).toEqual({ text: '/old.html', slash: true, dots: false })
    expect(literalOf('/old.html')).toMatchObject({ dots: true })
    for (const other of ['/a.*', '/a|/b', '/[a]', '/\\d', '/(a)', '/a?'])
      expect(literalOf(other), other).toBeUndefined()
    expect(quotedPath('/lost property/100%')).toBe('/lost%20property/100%25')
  })
})
