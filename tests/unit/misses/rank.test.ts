import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { LinkIndex, rank, type IndexedLink } from '../../../core/misses'

const link = (id: number, canonical: string, more: Partial<IndexedLink> = {}): IndexedLink => ({
  id,
  leader: id,
  domainId: 1,
  canonical,
  visits: 10,
  live: true,
  shown: true,
  ...more,
})
const LINKS = [
  link(1, 'fares', { visits: 900 }),
  link(2, 'night', { visits: 300 }),
  link(3, 'stop/4417', { visits: 200 }),
  link(4, 'open-data'),
  link(5, 'ferry-times', { domainId: 2 }),
  link(6, 'tickets', { leader: 1, visits: 40 }),
  link(7, 'line/7'),
  link(8, 'Jobs', { domainId: 2 }),
  link(9, 'harbour-centre'),
  link(10, 'tarif%C3%A9'),
]
const index = LinkIndex.of(LINKS)
const ask = (path: string, domainId = 1) => rank(index, { domainId, path })

describe('rank', () => {
  it.each([
    ['capitals', 'FARES', 1],
    ['punctuation', 'fares).', 1],
    ['a wrong first part', 'halt/4417', 3],
    ['a missing first part', '4417', 3],
    ['a first part too many', 'go/night', 2],
    ['another of our domains', 'ferry-times', 5],
    ['words in another order', 'data-open', 4],
    ['a number as a word', 'line/seven', 7],
    ['spelling', 'harbor-center', 9],
    ['an escape too many', 'open%2520data', 4],
    ['the end cut off', 'ferry-tim', 5],
    ['text glued on', 'night-and-day', 2],
  ])('finds what was meant in spite of %s', (_slip, path, meant) => {
    const { candidates, none } = ask(path)
    expect(candidates[0]?.link).toBe(meant)
    expect(candidates[0]!.probability).toBeGreaterThan(none)
    expect(candidates[0]!.because.length).toBeGreaterThan(0)
  })
  it('takes a link and the slugs that lead to it for one', () => {
    expect(ask('tickest').candidates[0]).toMatchObject({ link: 1, slugId: 6, canonical: 'tickets' })
    expect(ask('tickest').candidates.filter(({ link: id }) => id === 1)).toHaveLength(1)
  })
  it.each(['wp-login.php', 'qqqqzzzzxxxx', '.env', 'completely-unrelated-words'])('gives nothing for %s', (path) => {
    const { candidates, none } = ask(path)
    expect(none).toBeGreaterThan(candidates[0]?.probability ?? 0)
  })
  it('is moved by what visitors found next', () => {
    const path = 'nfares'
    const before = ask(path).candidates.find(({ link: id }) => id === 2)?.probability ?? 0
    const after = rank(index, { domainId: 1, path, followed: new Map([[2, 4]]) }).candidates.find(
      ({ link: id }) => id === 2,
    )
    expect(after?.probability ?? 0).toBeGreaterThanOrEqual(before)
    expect(rank(index, { domainId: 1, path: 'nigth', followed: new Map([[2, 4]]) }).candidates[0]!.because).toContain(
      'visitors found it next',
    )
  })
  it('gives a new link without visits a chance', () => {
    const fresh = LinkIndex.of([...LINKS, link(20, 'regatta', { visits: 0 })])
    expect(rank(fresh, { domainId: 1, path: 'regata' }).candidates[0]).toMatchObject({ link: 20 })
  })
  it('knows what came, changed and went since the index was made', () => {
    const changing = LinkIndex.of(LINKS)
    changing.put(link(30, 'festival'))
    expect(rank(changing, { domainId: 1, path: 'festivel' }).candidates[0]?.link).toBe(30)
    changing.put(link(30, 'quay-map'))
    expect(rank(changing, { domainId: 1, path: 'festivel' }).candidates.map(({ link: id }) => id)).not.toContain(30)
    changing.drop(2)
    expect(rank(changing, { domainId: 1, path: 'nigth' }).candidates.map(({ link: id }) => id)).not.toContain(2)
  })
  it('gives probabilities that come to no more than one, in their order, for whatever is asked', () => {
    let ranked = 0
    // Whatever strangers send, and slugs there are with something lost, doubled or added.
    const slip = fc
      .tuple(fc.constantFrom(...LINKS.map(({ canonical }) => canonical)), fc.nat(), fc.string({ maxLength: 2 }))
      .map(([slug, at, text]) => slug.slice(0, at % slug.length) + text + slug.slice((at % slug.length) + 1))
    const asked = fc.oneof(fc.string({ unit: 'binary', maxLength: 300 }), slip)
    fc.assert(
      fc.property(asked, (path) => {
        const { candidates, none } = ask(path)
        ranked += Number(candidates.length > 0)
        const sum = candidates.reduce((total, { probability }) => total + probability, none)
        expect(sum).toBeLessThanOrEqual(1 + 1e-9)
        expect(none).toBeGreaterThanOrEqual(0)
        for (const [index, { probability }] of candidates.entries()) {
          expect(probability).toBeGreaterThan(0)
          expect(probability).toBeLessThanOrEqual(candidates[index - 1]?.probability ?? 1)
        }
      }),
      { numRuns: 500 },
    )
    // Not only what is like nothing.
    expect(ranked).toBeGreaterThan(100)
  })
  it('ranks nothing that is longer than any slip', () => expect(ask('f'.repeat(201)).candidates).toEqual([]))
})
