import { describe, expect, it } from 'vitest'
import { slipCost, slipsOf } from '../../../core/misses/align'
import { areNeighbours } from '../../../core/misses/keyboards'
import { readingsOf } from '../../../core/misses/readings'
import { bones, plainLetters, plainSpelling, sortedWords, soundOf, withFigures } from '../../../core/misses/words'

describe('slips', () => {
  it.each([
    ['fares', 'fares', []],
    ['faers', 'fares', ['swapped']],
    ['fars', 'fares', ['dropped']],
    ['faares', 'fares', ['doubled']],
    ['gares', 'fares', ['neighbour-key']],
    ['far3s', 'fares', ['neighbour-key']],
    ['fares.', 'fares', ['punctuation']],
    ['fares).', 'fares', ['punctuation']],
    ['fares-today', 'fares', ['glued-on']],
    ['timetab', 'timetables', ['cut-off']],
    ['stop/44l7', 'stop/4417', ['look-alike']],
    ['stop-4417', 'stop/4417', ['separator']],
    ['stop4417', 'stop/4417', ['separator']],
    ['nught', 'night', ['neighbour-key']],
    ['nxght', 'night', ['substitution']],
    ['sculpter', 'sculptor', ['vowel-for-vowel']],
  ])('tell how “%s” came of “%s”', (typed, meant, reasons) => expect(slipsOf(typed, meant)).toEqual(reasons))

  it('cost nothing where there is none, and more the more there are', () => {
    expect(slipCost('fares', 'fares')).toBe(0)
    expect(slipCost('faers', 'fares')).toBeLessThan(slipCost('fxers', 'fares'))
    expect(slipCost('gares', 'fares')).toBeLessThan(slipCost('mares', 'fares'))
  })
  it('may be given up early, and then cost more than was asked for', () => {
    expect(slipCost('completely', 'different', 3)).toBeGreaterThan(3)
  })
  it('are bounded for texts of any length', () =>
    expect(slipCost('a'.repeat(5000), 'b'.repeat(5000))).toBeGreaterThan(9))
})

describe('keyboards', () => {
  const near = (a: string, b: string) => areNeighbours(a.charCodeAt(0), b.charCodeAt(0))
  it.each([
    ['QWERTY', 'f', 'g'],
    ['QWERTY', 'q', 'w'],
    ['QWERTZ', 't', 'z'],
    ['AZERTY', 'a', 'z'],
    ['a phone’s digits', '5', '8'],
    ['the row above', 's', 'w'],
  ])('know neighbours of %s: %s and %s', (_layout, a, b) => expect(near(a, b) && near(b, a)).toBe(true))
  it('know what lies apart', () =>
    expect([near('a', 'p'), near('1', '9'), near('f', 'f')]).toEqual([false, false, false]))
})

describe('words', () => {
  it.each([
    ['numbers as figures', withFigures('line-seven'), 'line-7'],
    ['in other languages', withFigures('linha-sete'), 'linha-7'],
    ['one spelling', plainSpelling('harbour-centre'), plainSpelling('harbor-center')],
    ['singular', plainSpelling('fares'), 'fare'],
    ['no plural of short words', plainSpelling('bus'), 'bus'],
    ['any order', sortedWords('ride-park'), sortedWords('park_ride')],
    ['letters without accents', plainLetters('Señal'), 'senal'],
    ['bones without separators and runs', bones('park--ride'), bones('parkride')],
    ['look-alikes', bones('st0p/44l7'), bones('stop/4417')],
    ['sounds', soundOf('fotograf'), soundOf('vodograv')],
  ])('%s', (_what, found, expected) => expect(found).toBe(expected))
  it('keep digits of numbers apart', () => expect(bones('stop/4417')).not.toBe(bones('stop/417')))
})

describe('readings', () => {
  const plains = (text: string) => readingsOf(text).map(({ plain }) => plain)
  it.each([
    ['escaped twice', 'open%2520data', 'open data'],
    ['UTF-8 taken for Latin-1', 'caf\u00c3\u00a9', 'cafe'],
    ['a plus for a space', 'open+data', 'open-data'],
  ])('take %s back', (_what, typed, meant) => expect(plains(typed)).toContain(meant))
  it('begin with the text as it came', () =>
    expect(readingsOf('fares')).toEqual([{ plain: 'fares', cost: 0, reason: null }]))
  it.each(['%', '%zz', '%E0%A4%A', '\ud800', '%00'])('survive %j', (text) =>
    expect(readingsOf(text).length).toBeGreaterThan(0),
  )
})
