import { RE2JS } from 're2js'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { makeMatcher, readPattern } from '../../../core/patterns'
import { readExpression } from '../../../core/patterns/expression'
import { re2Source } from '../../../core/patterns/re2-source'

const SEED = Number(process.env.FC_SEED ?? 4117)
const matches = (source: string, text: string) =>
  RE2JS.compile(re2Source(readExpression(source).node))
    .matcher(text)
    .matches()

// github.com/google/re2/wiki/Syntax: each kind of expression the page lists as supported, with a text that it says
// matches and one that it says does not (the page's descriptions, put into examples; from memory).
const SYNTAX: [source: string, yes: string, no: string][] = [
  ['a.c', 'abc', 'a\nc'],
  ['(?s)a.c', 'a\nc', 'ac'],
  ['[xyz]', 'y', 'a'],
  ['[^xyz]', 'a', 'y'],
  ['\\d+', '42', 'x'],
  ['\\D', 'x', '4'],
  ['[[:alpha:]]', 'q', '1'],
  ['[[:^alpha:]]', '1', 'q'],
  ['\\pN', '7', 'x'],
  ['\\p{Greek}', 'λ', 'l'],
  ['\\PN', 'x', '7'],
  ['\\P{Greek}', 'l', 'λ'],
  ['xy', 'xy', 'x'],
  ['x|y', 'y', 'z'],
  ['x*', '', 'y'],
  ['x+', 'xx', ''],
  ['x?', 'x', 'xx'],
  ['x{2,3}', 'xxx', 'x'],
  ['x{2,}', 'xxxx', 'x'],
  ['x{2}', 'xx', 'xxx'],
  ['x*?', 'xx', 'y'],
  ['(re)', 're', 'r'],
  ['(?P<name>re)', 're', 'er'],
  ['(?<name>re)', 're', 'er'],
  ['(?:re)+', 'rere', 'rer'],
  ['(?i)re', 'RE', 'ra'],
  ['(?i:r)e', 'Re', 'RE'],
  ['(?i)k', '\u212a', 'q'],
  ['\\Ax\\z', 'x', 'y'],
  ['^x$', 'x', 'y'],
  ['\\bx\\b', 'x', 'y'],
  ['a\\b-', 'a-', 'a'],
  ['a\\Bb', 'ab', 'a-'],
  ['\\Q*.+\\E', '*.+', 'abc'],
  ['\\x41', 'A', 'B'],
  ['\\x{10FFFF}', '\u{10FFFF}', 'x'],
  ['\\07', '\x07', '7'],
  ['\\w\\s\\W', 'a !', 'ab!'],
  ['[\\d-]+', '1-2', 'a'],
  ['[]a]', ']', 'b'],
  ['[a-c-]', '-', 'd'],
  ['(?U)x+', 'xx', ''],
  ['a{,2}', 'a{,2}', 'aa'],
  ['[[:word:]]', '_', '-'],
  ['\\*', '*', 'a'],
]
// The same page: not supported, and what counts as an error in RE2.
const REFUSED = [
  '(?=x)',
  '(?!x)',
  '(?<=x)',
  '(?<!x)',
  '(x)\\1',
  'a**',
  'x*+',
  'a{1001}',
  '[z-a]',
  '[a',
  '(a',
  'a)',
  '\\8',
  '\\C',
  '\\Z',
  '(?P<n>a)(?P<n>b)',
  '(?P<a-b>x)',
  '[[:nothing:]]',
  '\\p{Nothing}',
  '*a',
  '(?',
  '\\',
  '(?#x)',
]

describe('RE2 syntax', () => {
  it.each(SYNTAX)('%s matches %j and not %j (the syntax page)', (source, yes, no) => {
    expect([matches(source, yes), matches(source, no)]).toEqual([true, false])
    const theirs = RE2JS.compile(source)
    expect([theirs.matcher(yes).matches(), theirs.matcher(no).matches()]).toEqual([true, false])
  })

  it.each(REFUSED)('%s is refused in a sentence', (source) => {
    const reading = readPattern('expression', source, false)
    expect(reading).toMatchObject({ ok: false, sentence: expect.stringMatching(/[.]$/) })
    expect(() => RE2JS.compile(source)).toThrow()
  })

  it('is read as RE2’s own port reads it, on random expressions and texts (npm re2js)', () => {
    const atom = fc.constantFrom(
      'a',
      'b',
      '.',
      '[ab]',
      '[^a]',
      '\\d',
      '\\w',
      '(?i:A)',
      '\\b',
      '^',
      '$',
      '\\-',
      '(a|b)',
      '(?:ab|a)',
      '[[:digit:]]',
    )
    const piece = fc
      .tuple(atom, fc.constantFrom('', '', '*', '+', '?', '{2}', '{1,2}', '*?'))
      .map(([text, times]) => (/^(?:\^|\$|\\b)$/.test(text) ? text : text + times))
    const expression = fc
      .array(fc.oneof(piece, fc.constant('|')), { minLength: 1, maxLength: 6 })
      .map((parts) => parts.join(''))
    fc.assert(
      fc.property(expression, fc.string({ unit: fc.constantFrom(...'abA1-'), maxLength: 6 }), (source, text) => {
        const whole = RE2JS.compile(`^(?:${source})$`).matcher(text).matches()
        return matches(source, text) === whole
      }),
      { numRuns: 10_000, seed: SEED },
    )
  })

  it('folds as Unicode does where capitals do not matter', () => {
    const reading = readPattern('expression', '/stra\u00dfe/(?P<id>[A-Z]+)', true)
    if (!reading.ok) throw new Error(reading.sentence)
    const captured = makeMatcher(reading.pattern, false).match('strasse/abc')
    expect(captured?.('id')).toBe('abc')
  })

  // A matcher that backtracks does not come to an end with these. How time grows is measured in npm run
  // bench:conflicts.
  it.each(['/(a+)+$', '/(a|a)*b', '/(a*)*c', '/(?:a?){50}a{50}'])('%s is answered on 10,000 characters', (source) => {
    const reading = readPattern('expression', source, false)
    if (!reading.ok) throw new Error(reading.sentence)
    expect(makeMatcher(reading.pattern, true).match('a'.repeat(10_000) + '!')).toBeUndefined()
  })
})
