import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import {
  BLOCK_SIZE,
  countOffsets,
  distanceTo,
  IdSet,
  indexGrams,
  looseWords,
  minShared,
  offsetsOf,
  trigrams,
  withOffsets,
} from '../../core/search'

const offset = fc.integer({ min: 0, max: 32_767 })
const ids = fc.array(fc.integer({ min: 1, max: 1_000_000 }), { maxLength: 300 })
const ascending = (numbers: Iterable<number>) => [...new Set(numbers)].sort((a, b) => a - b)

describe('a stored block', () => {
  it('contains what was put into it, whichever way it is stored', () => {
    fc.assert(
      fc.property(fc.array(fc.array(offset, { maxLength: 3000 }), { maxLength: 3 }), (parts) => {
        let stored: Uint8Array | undefined
        for (const part of parts) stored = withOffsets(stored, part)
        expect(offsetsOf(stored ?? new Uint8Array())).toEqual(ascending(parts.flat()))
        expect(stored?.length ?? 0).toBeLessThanOrEqual(4096)
        const counts = new Uint8Array(BLOCK_SIZE)
        countOffsets(stored ?? new Uint8Array(), counts)
        expect([...counts.keys()].filter((at) => counts[at] === 1)).toEqual(ascending(parts.flat()))
      }),
      { numRuns: 60 },
    )
  })

  it('becomes bits where a list would be as long, and stays bits', () => {
    const listed = withOffsets(
      undefined,
      Array.from({ length: 2047 }, (_, at) => at * 3),
    )
    expect(listed).toHaveLength(4094)
    const bits = withOffsets(listed, [32_767])
    expect(bits).toHaveLength(4096)
    expect(withOffsets(bits, [1])).toHaveLength(4096)
    expect(offsetsOf(bits).at(-1)).toBe(32_767)
  })
})

describe('a set of links', () => {
  it('joins and keeps as sets do', () => {
    fc.assert(
      fc.property(ids, ids, (a, b) => {
        const both = IdSet.of(a)
        both.keepOnly(IdSet.of(b))
        const either = IdSet.of(a)
        either.addAll(IdSet.of(b))
        expect(ascending(both)).toEqual(ascending(a.filter((id) => b.includes(id))))
        expect(ascending(either)).toEqual(ascending([...a, ...b]))
        expect(either.size).toBe(ascending([...a, ...b]).length)
        for (const id of b) expect(both.has(id)).toBe(a.includes(id))
      }),
    )
  })

  it('is empty at first, and without anything of another that is empty', () => {
    const set = IdSet.of([7, 40_000])
    set.keepOnly(new IdSet())
    expect([...set]).toEqual([])
    expect(new IdSet().has(7)).toBe(false)
  })
})

describe('trigrams', () => {
  it('of any part of a text are among those of the text', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme', maxLength: 60 }), fc.nat(60), fc.nat(60), (text, from, length) => {
        const all = indexGrams(text)
        const part = [...text].slice(from, from + length).join('')
        for (const gram of trigrams(part)) expect(all.has(gram)).toBe(true)
      }),
    )
  })

  it('are of three characters, whatever alphabet', () => {
    expect([...trigrams('fahrt')]).toEqual(['fah', 'ahr', 'hrt'])
    expect([...trigrams('🚲🚋⛴️')][0]).toBe('🚲🚋⛴')
    expect(trigrams('ab').size).toBe(0)
  })

  it('tell where a word begins and ends, also short ones', () => {
    expect(indexGrams('a/by')).toEqual(new Set(['a/b', '/by', '\u0001a\u0001', '\u0001by', 'by\u0001']))
  })
})

describe('a search with slips in it', () => {
  const wordsOf = (typed: string) => looseWords([{ text: typed }])
  const text = 'ansl.example/departures\ntimetable of the harbour line 17\nhttps://www.portansel.example/harbour'

  it.each([
    ['harbuor', 1],
    ['harbor', 1],
    ['depatrures timetabel', 2],
    ['departure', 1],
    ['harbour', 0],
    ['dparturs', 2],
  ])('%s is at distance %i', (typed, distance) => {
    const expected = typed === 'dparturs' ? undefined : distance
    // Eight letters may have one slip.
    expect(distanceTo(wordsOf(typed), text)).toBe(expected)
  })

  it('does not take one number for another, nor short words', () => {
    expect(distanceTo(wordsOf('line 18'), text)).toBeUndefined()
    expect(distanceTo(wordsOf('linr 17'), text)).toBeUndefined()
  })

  it('shares with every word one slip away the trigrams by which it is looked for', () => {
    const word = fc.uniqueArray(fc.constantFrom(...'abcdefghijkl'), { minLength: 6, maxLength: 8 })
    fc.assert(
      fc.property(word, fc.nat(7), fc.constantFrom('other', 'missing', 'more', 'swapped'), (letters, place, kind) => {
        const at = place % (letters.length - 1)
        const slipped = [...letters]
        if (kind === 'other') slipped[at] = 'z'
        if (kind === 'missing') slipped.splice(at, 1)
        if (kind === 'more') slipped.splice(at, 0, 'z')
        if (kind === 'swapped') slipped.splice(at, 2, slipped[at + 1]!, slipped[at]!)
        const [loose] = wordsOf(slipped.join(''))
        const there = indexGrams(letters.join(''))
        expect(distanceTo([loose!], letters.join(''))).toBe(1)
        expect([...loose!.grams].filter((gram) => there.has(gram)).length).toBeGreaterThanOrEqual(minShared(loose!))
      }),
    )
  })
})
