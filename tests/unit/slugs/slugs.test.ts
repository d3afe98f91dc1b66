import { randomBytes } from 'node:crypto'
import { describe, expect, it } from 'vitest'
import {
  breachesOf,
  faultsOfRules,
  OPEN_RULES,
  randomAlphabet,
  randomSlug,
  shapeOf,
  speakability,
  spell,
  suggestSlugs,
  UNMISTAKABLE,
  wordsOf,
} from '../../../core/slugs'
import { movedOf } from '../../../core/rows/moved'

describe('slug rules', () => {
  const rules = {
    ...OPEN_RULES,
    alphabet: 'lower' as const,
    separators: '-',
    otherScripts: false,
    minLength: 3,
    maxLength: 20,
    depth: 2,
    reserved: ['admin'],
    blocked: ['damn', 'bloody'],
  }
  const kinds = (slug: string, more = {}, capitalsMatter = true) =>
    breachesOf(slug, { ...rules, ...more }, capitalsMatter).map(({ kind }) => kind)
  it.each<[string, string[]]>([
    ['fares', []],
    ['Fares', ['character']],
    ['lost_found', ['separator']],
    ['ab', ['short']],
    ['a'.repeat(21), ['long']],
    ['a/b/c', ['depth']],
    ['admin', ['reserved']],
    ['Admin', ['character', 'reserved']],
    ['admin/x', ['reserved']],
    ['x/admin', []],
    ['damn', ['blocked']],
    ['go-damn', ['blocked']],
    ['d4mn', []],
    ['damnation', []],
    ['xbl00dyx', ['blocked']],
    ['café', ['character']],
    ['fares/', []],
  ])('%s breaks %j', (slug, wanted) => expect(kinds(slug)).toEqual(wanted))
  it('count capitals as small ones where they do not matter', () => expect(kinds('Fares', {}, false)).toEqual([]))
  it('look through long lists of blocked words at no great cost, wherever the word stands', () => {
    const many = Array.from({ length: 5000 }, (_, at) => `blocked${String(at).padStart(4, '0')}word`)
    expect(kinds('x-blocked4711word-y', { blocked: many, maxLength: 60 })).toEqual(['blocked'])
    expect(kinds('harmless', { blocked: many })).toEqual([])
  })
  it('ask for one of the families', () => {
    expect(kinds('fares', { prefixes: ['go', 'my'] })).toEqual(['prefix'])
    expect(kinds('go/fares', { prefixes: ['go', 'my'] })).toEqual([])
  })
  it('take other scripts, one at a time, where they are switched on', () => {
    expect(kinds('билет', { otherScripts: true })).toEqual([])
    expect(kinds('бilет', { otherScripts: true })).toEqual(['script'])
  })
  it('say what of them cannot be as given', () => {
    const fields = (more: object) => faultsOfRules({ ...rules, ...more }).map(({ field }) => field)
    expect(fields({})).toEqual([])
    expect(fields({ minLength: 30 })).toEqual(['maxLength', 'randomLength'])
    expect(fields({ alphabet: 'own', ownAlphabet: 'aab-' })).toEqual(['ownAlphabet', 'ownAlphabet'])
    expect(fields({ separators: '-+' })).toEqual(['separators'])
    expect(fields({ prefixes: ['admin/x'] })).toEqual(['prefixes'])
  })
})

describe('random slugs', () => {
  it('take each character equally often', () => {
    const counts = new Map<string, number>()
    for (let draw = 0; draw < 3000; draw++)
      for (const character of randomSlug(UNMISTAKABLE, 10, randomBytes))
        counts.set(character, (counts.get(character) ?? 0) + 1)
    // 30,000 draws from 31: 968 each, standard deviation 30.6; six of those are passed once in 10^8 runs.
    expect(counts.size).toBe(31)
    for (const count of counts.values()) expect(Math.abs(count - 967.7)).toBeLessThan(184)
  })
  it('draw from alphabets of any script, and leave out what is easily misread', () => {
    expect([...randomSlug('äöüß', 9, randomBytes)]).toHaveLength(9)
    expect(randomAlphabet(OPEN_RULES, false).join('')).toBe(UNMISTAKABLE)
    expect(randomAlphabet({ ...OPEN_RULES, randomUnmistakable: false }, true)).toHaveLength(62)
  })
})

describe('the shape of an address', () => {
  const kinds = (slug: string, capitalsMatter = true) => shapeOf(slug, capitalsMatter).map(({ kind }) => kind)
  it.each<[string, string[]]>([
    ['fares', []],
    ['stop/44l7', ['misread']],
    ['Fares', ['capitals']],
    ['coffee', ['doubled']],
    ['xkcdqrt', ['unspeakable']],
    ['gull', ['misread', 'doubled']],
  ])('%s: %j', (slug, wanted) => expect(kinds(slug)).toEqual(wanted))
  it('says nothing of capitals where they do not matter', () => expect(kinds('Fares', false)).toEqual([]))
  it('finds words more sayable than draws', () =>
    expect(speakability('harbour')).toBeGreaterThan(speakability('hrbxrqt')))
  it('is spelled by the ICAO alphabet', () => {
    expect(spell('Ab-1/z', true)).toBe('capital Alfa Bravo hyphen one slash Zulu')
    expect(spell('Ab', false)).toBe('Alfa Bravo')
  })
})

describe('suggestions', () => {
  const world = {
    isFree: (slug: string) => slug !== 'survey',
    neighbours: (slug: string) => (slug === 'rider' ? 5 : 0),
  }
  const offered = (more = {}) =>
    suggestSlugs(
      {
        title: 'Rider survey of the ferries',
        destination: 'https://forms.civicpanel.example/panel/join.html',
        typed: '',
        rules: OPEN_RULES,
        capitalsMatter: false,
        ...more,
      },
      world,
      8,
    ).map(({ slug }) => slug)
  it('are made of title and destination, free, and far from neighbours first', () => {
    expect(offered()).not.toContain('survey')
    expect(offered()).toContain('ferries')
    expect(offered().indexOf('rider')).toBe(-1)
  })
  it('stay near to what was typed, within its family', () => {
    expect(offered({ typed: 'go/survey' }).some((slug) => slug.startsWith('go/'))).toBe(true)
    expect(offered({ typed: 'stop/41' })).toContain('stop/42')
  })
  it('keep to the rules', () =>
    expect(offered({ rules: { ...OPEN_RULES, prefixes: ['my'] } }).every((slug) => slug.startsWith('my/'))).toBe(true))
  it('read words without accents and articles', () =>
    expect(wordsOf('The Café’s “Été” index')).toEqual(['cafes', 'ete']))
})

describe('the fewest moves from one order to another', () => {
  it.each([
    [[1, 2, 3, 4], [1, 2, 3, 4], []],
    [[1, 2, 3, 4], [4, 1, 2, 3], [4]],
    [[1, 2, 3, 4], [2, 3, 4, 1], [1]],
    [
      [1, 2, 3],
      [3, 2, 1],
      [3, 2],
    ],
    [
      [1, 2, 3, 4],
      [2, 1, 4, 3],
      [2, 4],
    ],
  ])('%j to %j moves %j', (from, to, moved) => {
    const found = movedOf(from, to)
    expect(found).toHaveLength(moved.length)
    expect(from.filter((id) => !found.includes(id))).toEqual(to.filter((id) => !found.includes(id)))
  })
})
