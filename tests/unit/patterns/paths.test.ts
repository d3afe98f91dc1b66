import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { canonicalSlug } from '../../../core/address'
import {
  compileFamily,
  firstWords,
  isEndless,
  judgePattern,
  makeMatcher,
  readPattern,
  relate,
  takes,
  witnesses,
  type Compared,
  type Pattern,
} from '../../../core/patterns'

const SEED = Number(process.env.FC_SEED ?? 4117)
const WAYS = [true, false].flatMap((capitalsMatter) =>
  [true, false].map((trailingSlashMatters) => ({ capitalsMatter, trailingSlashMatters })),
)
const read = (source: string, fold = false, syntax: 'path' | 'expression' = 'path'): Pattern => {
  const reading = readPattern(syntax, source, fold)
  if (!reading.ok) throw new Error(`${source}: ${reading.sentence}`)
  return reading.pattern
}
const family = (compared: Compared[], same: (typeof WAYS)[number]) => {
  const reading = compileFamily(compared, same)
  if (!reading.ok) throw new Error(reading.sentence)
  return reading.family
}

describe('the automaton of canonical paths', () => {
  const piece = fc.constantFrom(
    'a',
    'B',
    '0',
    '-',
    '.',
    '..',
    '/',
    '//',
    '%2F',
    '%2f',
    '%41',
    '%20',
    '%7E',
    '%',
    '.well-known',
    '.Well-Known',
    '.well',
    ':',
    '@',
    '!',
    ' ',
    '"',
    'ä',
    '~',
    'ſ',
  )
  const path = fc.array(piece, { maxLength: 6 }).map((pieces) => pieces.join(''))
  it.each(WAYS)('takes exactly what is a fixed point of reading, in ASCII: %j', (same) => {
    const all = family([{ pattern: read('/*', !same.capitalsMatter) }], same)
    let canonical = 0
    fc.assert(
      fc.property(path, (slug) => {
        // What composes or folds beyond ASCII is told by reading alone.
        fc.pre(/^[\0-\x7f]*$/.test(slug))
        const fixed = canonicalSlug(slug, same) === slug && slug !== '.well-known' && !slug.startsWith('.well-known/')
        if (fixed) canonical++
        return takes(all, 0, slug) === fixed
      }),
      { seed: SEED, numRuns: 5000 },
    )
    expect(canonical).toBeGreaterThan(300)
  })
})

describe('automaton and matcher', () => {
  const part = fc.constantFrom('a', 'b', 'Ab', ':x', ':y(\\d+)', '*', '{a}?', '(a|b/)', '1')
  const pattern = fc
    .array(part, { minLength: 1, maxLength: 3 })
    .map((parts) => '/' + parts.map((text, at) => text.replace(/:([xy])/, `:$1${at}`)).join('/'))
  const slug = fc
    .array(fc.constantFrom('a', 'b', 'ab', 'AB', '1', '12', '/', '-'), { maxLength: 6 })
    .map((pieces) => pieces.join(''))
  it.each(WAYS)('take the same addresses: %j', (same) => {
    fc.assert(
      fc.property(pattern, slug, (source, typed) => {
        const canonical = canonicalSlug(typed, same)
        fc.pre(canonical !== undefined)
        const compiled = read(source, !same.capitalsMatter)
        return (
          takes(family([{ pattern: compiled }], same), 0, canonical!) ===
          (makeMatcher(compiled, same.trailingSlashMatters).match(canonical!) !== undefined)
        )
      }),
      { seed: SEED, numRuns: 1500 },
    )
  })

  it('leave single addresses alone, and no other', () => {
    const same = WAYS[0]!
    const two = family([{ pattern: read('/:x'), except: ['night', 'nights', 'n'] }, { pattern: read('/:x') }], same)
    for (const [typed, taken] of [
      ['night', false],
      ['nights', false],
      ['n', false],
      ['nigh', true],
      ['nightss', true],
      ['x', true],
    ] as const)
      expect(takes(two, 0, typed), typed).toBe(taken)
    expect(relate(two, 0, 1)).toMatchObject({ relation: 'b-covers-a', onlyB: 'n' })
    expect(witnesses(two, [1], [0], 9).sort()).toEqual(['n', 'night', 'nights'])
    expect(judgePattern({ pattern: read('/(a|b)', false), except: ['a', 'b'] }, same)).toContain('matches no address')
  })

  it('list every address there is, where there are few, and say where there are more', () => {
    const same = WAYS[0]!
    const one = (source: string) => family([{ pattern: read(source) }, { pattern: read('/s/1') }], same)
    expect(firstWords(one('/s/:id([0-2])'), [0], [1], 9)).toEqual({ words: ['s/0', 's/2'], all: true })
    expect(firstWords(one('/s/:id([0-2][01])'), [0], [1], 9).words.sort()).toEqual(
      ['00', '01', '10', '11', '20', '21'].map((id) => `s/${id}`),
    )
    expect(firstWords(one('/s/:id([0-9])'), [0], [1], 8)).toMatchObject({ words: { length: 8 }, all: false })
    expect(firstWords(one('/s/:id'), [0], [], 20)).toMatchObject({ words: { length: 20 }, all: false })
    expect(firstWords(one('/s/1'), [0], [1], 9)).toEqual({ words: [], all: true })
    // The others of a class do not crowd out the only way on.
    expect(firstWords(one('/:a/:b/end'), [0], [], 3).words[0]).toMatch(/^.\/.\/end$/)
  })

  it('know which take addresses without end', () => {
    const same = WAYS[0]!
    const endless = (source: string) => isEndless(family([{ pattern: read(source) }], same).dfas[0]!)
    expect(['/a', '/(a|b)', '/{a}?b', '/:x(\\d\\d?)', '/..'].map(endless)).toEqual([false, false, false, false, false])
    expect(['/*', '/:x', '/a/:x+', '/:x(\\d+)'].map(endless)).toEqual([true, true, true, true])
  })

  it('find a witness beyond ASCII that reading leaves as it is', () => {
    const same = { capitalsMatter: false, trailingSlashMatters: false }
    const [witness] = witnesses(family([{ pattern: read('/(\\p{Greek}+)', true, 'expression') }], same), [0], [])
    expect(canonicalSlug(witness!, same)).toBe(witness)
    expect(witness).toMatch(/^\p{Script=Greek}+$/u)
  })

  it('begin with the text that is looked at first', () => {
    expect(read('/Stop/:id', true).prefix).toBe('/stop/')
    expect(read('/stop{/x}?').prefix).toBe('/stop')
    expect(read('/(?:a|b)c', false, 'expression').prefix).toBe('/')
    expect(read('/straße/x', true).prefix).toBe('/strasse/x')
  })
})
