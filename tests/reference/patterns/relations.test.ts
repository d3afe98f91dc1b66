import fc from 'fast-check'
import { DFA, JS, NFA } from 'refa'
import { RE2JS } from 're2js'
import { URLPattern } from 'urlpattern-polyfill'
import { describe, expect, it } from 'vitest'
import { canonicalSlug } from '../../../core/address'
import { comparePatterns, judgePattern, makeMatcher, readPattern, type Pattern } from '../../../core/patterns'
import { answer, compile } from '../../../core/table'
import { domainRow, ruleRow } from '../../unit/table/rows'

const SEED = Number(process.env.FC_SEED ?? 4117)
const SAME = { capitalsMatter: true, trailingSlashMatters: true }
const read = (syntax: 'path' | 'expression', source: string, fold = false): Pattern => {
  const reading = readPattern(syntax, source, fold)
  if (!reading.ok) throw new Error(`${source}: ${reading.sentence}`)
  return reading.pattern
}

/** Every path of up to `most` characters of an alphabet that is canonical. */
function shortPaths(characters: string, most: number): string[] {
  const all: string[] = []
  const grow = (path: string) => {
    if (canonicalSlug(path.slice(1), SAME) === path.slice(1)) all.push(path)
    if (path.length < most) for (const character of characters) grow(path + character)
  }
  grow('/')
  return all
}
const PATHS = shortPaths('ab1/', 6)

const pathPattern = fc
  .array(fc.constantFrom('a', 'b', ':x', ':y(\\d)', '*', ':z?', '{a}?b', '(a|b1)', 'a*', '1'), {
    minLength: 1,
    maxLength: 3,
  })
  .map((parts) => '/' + parts.map((part, at) => part.replace(/:([xyz])/, `:$1${at}`)).join('/'))
const expression = fc
  .array(fc.constantFrom('/', 'a', 'b', '[ab]', '1', '\\d', 'a*', '(?:ab)?', '(?:a|b)', '.*', 'b+', '/?'), {
    minLength: 1,
    maxLength: 5,
  })
  .map((parts) => '/' + parts.join(''))

describe('overlap and cover, decided on automata', () => {
  it(
    'agree with counting out all short paths, on 500 random pairs; each witness is matched by both and ' +
      'answered so by the gateway',
    () => {
      const pair = fc.oneof(
        fc.tuple(fc.constant('path' as const), pathPattern, pathPattern),
        fc.tuple(fc.constant('expression' as const), expression, expression),
      )
      const seen: Record<string, number> = {}
      for (const [syntax, a, b] of fc.sample(pair, { numRuns: 500, seed: SEED })) {
        // Independent matchers: another implementation of URL Pattern, and RE2's port on the expression as it was
        // written.
        const theirs = (source: string) => {
          if (syntax === 'expression') {
            const whole = RE2JS.compile(`^(?:${source})$`)
            return (path: string) => whole.matcher(path).matches()
          }
          // It misreads paths that begin with two slashes (see url-pattern.test.ts): on those, ours stands alone.
          const pattern = new URLPattern({ pathname: source })
          const own = makeMatcher(read('path', source), true)
          return (path: string) =>
            path.startsWith('//') ? own.match(path.slice(1)) !== undefined : pattern.test(`https://ansl.example${path}`)
        }
        const [takesA, takesB] = [theirs(a), theirs(b)]
        const compared = comparePatterns(read(syntax, a), read(syntax, b), SAME)
        if (!compared.ok) throw new Error(compared.sentence)
        const { relation, witness, onlyA, onlyB } = compared.comparison
        const label = `${a} and ${b}: ${relation}`
        seen[relation] = (seen[relation] ?? 0) + 1
        for (const path of PATHS) {
          const [inA, inB] = [takesA(path), takesB(path)]
          if (inA && inB) expect(witness, `${label}, yet both take ${path}`).toBeDefined()
          if (inA && !inB) expect(onlyA, `${label}, yet only the first takes ${path}`).toBeDefined()
          if (inB && !inA) expect(onlyB, `${label}, yet only the second takes ${path}`).toBeDefined()
        }
        expect(relation).toBe(
          witness === undefined
            ? onlyA === undefined && onlyB === undefined
              ? 'equal'
              : 'disjoint'
            : onlyA === undefined && onlyB === undefined
              ? 'equal'
              : onlyB === undefined
                ? 'a-covers-b'
                : onlyA === undefined
                  ? 'b-covers-a'
                  : 'overlap',
        )
        for (const [slug, byA, byB] of [
          [witness, true, true],
          [onlyA, true, false],
          [onlyB, false, true],
        ] as const) {
          if (slug === undefined) continue
          expect([takesA('/' + slug), takesB('/' + slug)], `${label}, shown by /${slug}`).toEqual([byA, byB])
          // The gateway: the first of two rules that takes it answers.
          const rules = [a, b].map((pattern, at) =>
            ruleRow({ id: at + 1, position: at + 1, syntax, pattern, destination: `https://${at + 1}.example/` }),
          )
          const given = answer(
            compile([domainRow(SAME)], [], 1, rules),
            { method: 'GET', host: 'ansl.example', target: '/' + slug },
            0,
          )
          expect(given.ruleId, `${label}, the gateway on /${slug}`).toBe(byA ? 1 : 2)
        }
      }
      for (const relation of ['disjoint', 'overlap', 'a-covers-b', 'b-covers-a', 'equal'])
        expect(seen[relation], relation).toBeGreaterThan(2)
    },
  )

  // npm refa: automata for regular expressions of the language, by other hands. On languages of plain path characters
  // only.
  it('agree with another library’s automata, where both can read the pattern', () => {
    const plain = fc
      .array(fc.constantFrom('a', 'b', '[ab]', '[a-c]', '(?:ab)?', '(?:a|b)', 'b+', 'a*', '[0-9]'), {
        minLength: 1,
        maxLength: 5,
      })
      .map((parts) => '/' + parts.join(''))
    const toDfa = (source: string) => {
      const { expression: parsed, maxCharacter } = JS.Parser.fromLiteral({
        source: source.replaceAll('/', '\\/'),
        flags: 'u',
      }).parse()
      return DFA.fromFA(NFA.fromRegex(parsed, { maxCharacter }))
    }
    for (const [a, b] of fc.sample(fc.tuple(plain, plain), { numRuns: 200, seed: SEED })) {
      const [one, two] = [toDfa(a), toDfa(b)]
      const both = NFA.fromIntersection(one, two)
      const compared = comparePatterns(read('expression', a), read('expression', b), SAME)
      if (!compared.ok) throw new Error(compared.sentence)
      expect(compared.comparison.witness === undefined, `${a} and ${b}`).toBe(both.isEmpty)
      expect(compared.comparison.relation === 'equal', `${a} and ${b}`).toBe(
        one.structurallyEqual(two) ||
          (() => {
            one.minimize()
            two.minimize()
            return one.structurallyEqual(two)
          })(),
      )
    }
  })

  it('take capitals and trailing slashes as the domain does', () => {
    const easy = { capitalsMatter: false, trailingSlashMatters: false }
    const relation = (a: string, b: string, same = easy) => {
      const compared = comparePatterns(
        read('path', a, !same.capitalsMatter),
        read('path', b, !same.capitalsMatter),
        same,
      )
      return compared.ok && compared.comparison.relation
    }
    expect(relation('/Fares', '/fares/')).toBe('equal')
    expect(relation('/Fares', '/fares/', SAME)).toBe('disjoint')
    expect(relation('/archive/*', '/archive')).toBe('a-covers-b')
    expect(relation('/archive/*', '/archive', SAME)).toBe('disjoint')
    expect(relation('/*', '/.well-known/*')).toBe('disjoint')
    expect(relation('/a%2fb', '/a%2Fb', SAME)).toBe('equal')
    expect(relation('/..', '/x')).toBe('disjoint')
  })

  it.each(['/(a|b)*a(a|b){20}', '/(.*a.{30})', '/((a{100}){100}){100}', '/(?:(?:a|b)*c){3}(?:a|b|c)*a[abc]{14}x'])(
    '%s, whose automaton would explode, is refused with a sentence',
    (source) => {
      const sentence = judgePattern({ pattern: read('expression', source) }, SAME)
      expect(sentence).toMatch(/too involved.*[.]$/)
    },
  )
})
