import { describe, expect, it } from 'vitest'
import {
  dayOf,
  eventsOf,
  joinParts,
  readPart,
  toDayView,
  toPart,
  Vocabulary,
  withoutRows,
  writePart,
  type VisitEvent,
} from '../../../core/visits'
import { seeded } from '../../../server/database/seed/chance'

const DAY = dayOf(Date.UTC(2026, 10, 27))
const START = DAY * 86_400_000
const random = seeded(7)
const pick = <Item>(items: readonly Item[]): Item => items[Math.floor(random() * items.length)]!
const event = (more: Partial<VisitEvent> = {}): VisitEvent => ({
  at: START + Math.floor(random() * 86_400_000),
  domainId: 1 + Math.floor(random() * 3),
  linkId: Math.floor(random() * 50),
  ruleId: Math.floor(random() * 4),
  kind: pick(['visit', 'robot', 'page']),
  status: pick([302, 404, 301]),
  outcome: pick(['redirect', 'not-found']),
  path: pick(['', 'été/😀', 'tab\t and "quotes"', 'x'.repeat(600)]),
  referrer: `site${Math.floor(random() * 400)}.example`,
  mended: pick(['', 'capitals']),
  channel: pick(['', 'p1']),
  network: pick(['', '192.0.2.0/24']),
  country: pick(['PT', '']),
  language: pick(['pt', 'en', '']),
  device: pick(['mobile', '']),
  system: 'Android',
  browser: 'Firefox',
  visitor: pick(['', '0011223344556677', 'ffeeddccbbaa9988']),
  after: '',
  page: '',
  ...more,
})
const many = (count: number) => Array.from({ length: count }, () => event())

describe('a part of raw visits', () => {
  it.each([0, 1, 3, 1000])('of %i events is read back as it was written, wherever its octets lie', (count) => {
    const events = many(count)
    const octets = writePart(toPart(DAY, events))
    const shifted = new Uint8Array(octets.length + 3)
    shifted.set(octets, 3)
    for (const given of [octets, shifted.subarray(3)]) expect([...eventsOf(readPart(given))]).toEqual(events)
  })

  it('joined with others holds all of them, in their order', () => {
    const parts = [many(40), [], many(300)]
    const joined = joinParts(
      DAY,
      parts.map((events) => toPart(DAY, events)),
    )
    expect([...eventsOf(readPart(writePart(joined)))]).toEqual(parts.flat())
  })

  it('without some rows is the rest', () => {
    const events = many(200)
    const left = withoutRows(toPart(DAY, events), (row) => events[row]!.linkId === 7)
    expect([...eventsOf(readPart(writePart(left)))]).toEqual(events.filter(({ linkId }) => linkId !== 7))
  })

  it('is refused where octets are something else', () => {
    expect(() => readPart(new Uint8Array(4))).toThrow('not part of visits')
    expect(() => readPart(new Uint8Array(100))).toThrow('not part of visits')
    expect(() => readPart(writePart(toPart(DAY, many(10))).subarray(0, 200))).toThrow()
  })
})

describe('a day as it is counted', () => {
  it('lies by visitor and time, and marks what the same person asks again within ten seconds', () => {
    const at = (second: number, more: Partial<VisitEvent> = {}) =>
      event({ at: START + second * 1000, kind: 'visit', linkId: 1, visitor: 'aa00000000000000', ...more })
    const events = [
      at(100),
      at(109),
      at(120), // eleven seconds after
      at(125, { linkId: 2 }),
      at(129),
      at(130, { visitor: 'bb00000000000000' }),
      at(131, { kind: 'robot' }),
      at(132, { visitor: '' }),
      at(133, { visitor: '' }),
    ]
    const view = toDayView(DAY, [toPart(DAY, [...events].reverse())], new Vocabulary())
    // Visits first, among them those of nobody in particular; then the robot’s request.
    const [a, b] = [view.visitors[2]!, view.visitors[7]!]
    expect([...view.visitors].sort()).toEqual([0, 0, a, a, a, a, a, a, b].sort())
    expect([...view.starts.subarray(0, 2)]).toEqual([0, 8])
    for (let row = 1; row < 8; row++) expect(view.visitors[row]).toBeGreaterThanOrEqual(view.visitors[row - 1]!)
    expect(view.repeats.reduce((sum, one) => sum + one, 0)).toBe(2)
  })

  it('puts made-up words beyond what is told apart together, and mistakes none for another', () => {
    const MADE_UP = 70_000
    const events = Array.from({ length: MADE_UP }, (_, n) =>
      event({ kind: 'visit', browser: `Made up ${n}`, channel: `m${n}`, language: 'pt', visitor: '' }),
    )
    const vocabulary = new Vocabulary()
    const view = toDayView(DAY, [toPart(DAY, events)], vocabulary)
    for (const dimension of ['browser', 'channel'] as const) {
      const { words } = vocabulary.words(dimension)
      expect(words.length).toBeLessThan(2500)
      const others = view.codes[dimension].filter((code) => words[code] === '(others)').length
      expect(others).toBe(MADE_UP - (words.length - 1))
    }
    expect(new Set(view.codes.language).size).toBe(1)
  })

  it('gives the events of the links asked for alone', () => {
    const events = many(300)
    const wanted = new Set([3, 8])
    expect([...eventsOf(toPart(DAY, events), wanted)]).toEqual(events.filter(({ linkId }) => wanted.has(linkId)))
  })
})
