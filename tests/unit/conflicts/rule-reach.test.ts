import { describe, expect, it } from 'vitest'
import { placeToApply, ruleReach } from '../../../core/conflicts'
import { NOBODY } from '../../../core/conditions'
import { seeded } from '../../../server/database/seed/chance'
import { surveyLink, surveyRule } from './rows'
import { surveyOf } from './survey-of'

const rules = (...patterns: string[]) =>
  patterns.map((pattern, index) => surveyRule({ id: index + 1, position: index + 1, pattern }))

describe('what a rule is left with', () => {
  it('names the rules that match its addresses first, and those it takes addresses from', () => {
    const { state } = surveyOf([], rules('/archive/*', '/archive/:year(\\d{4})/map', '/works/:place'))
    expect(ruleReach(state, 1, 2)).toMatchObject({ before: [{ rule: 1, whole: true }], after: [], example: undefined })
    expect(ruleReach(state, 1, 1)).toMatchObject({ before: [], after: [{ rule: 2, whole: true }] })
    expect(ruleReach(state, 1, 3)).toMatchObject({ before: [], after: [], example: 'works/b' })
  })

  it('gives an address no link has', () => {
    const links = ['stop/0', 'stop/1'].map((slug, index) => surveyLink({ id: index + 1, slug }))
    const { state } = surveyOf(links, rules('/stop/:id([0-2])'))
    expect(ruleReach(state, 1, 1)?.example).toBe('stop/2')
  })

  it('leaves rules alone that other visitors get', () => {
    const [first, second] = rules('/a/*', '/a/b')
    const condition = [{ kind: 'language' as const, languages: ['pt'] }]
    const { state } = surveyOf([], [{ ...first!, condition }, second!])
    expect(ruleReach(state, 1, 2)).toMatchObject({ before: [{ rule: 1, whole: false }], example: 'a/b' })
  })

  it('says nothing of a rule that is switched off', () => {
    const [first] = rules('/a/*')
    expect(ruleReach(surveyOf([], [{ ...first!, active: false }]).state, 1, 1)).toBeUndefined()
  })

  it('gives a place to apply only where moving there leaves each of the others something', () => {
    const { state } = surveyOf([], rules('/archive/*', '/archive/:year(\\d{4})/map', '/x/*', '/x/:rest(.*)'))
    expect(placeToApply(state, 1, 2)).toBe(1)
    expect(placeToApply(state, 1, 4)).toBeUndefined()
    expect(placeToApply(state, 1, 1)).toBeUndefined()
    // No further up than it must: the first of three takes some of its addresses only.
    const three = surveyOf([], rules('/*.pdf', '/muse*', '/muse-:name'))
    expect(ruleReach(three.state, 1, 3)).toMatchObject({ before: [{ rule: 1 }, { rule: 2, whole: true }] })
    expect(placeToApply(three.state, 1, 3)).toBe(2)
  })

  it('agrees with asking every short address, for random rules', () => {
    const random = seeded(4711)
    const parts = ['a', 'b', ':x', ':x([ab])', 'a{b}?', '*']
    const pick = () => parts[Math.floor(random() * parts.length)]!
    const addresses = ['a', 'b', 'ab', 'ba', 'aa'].flatMap((one) => [
      one,
      ...['a', 'b', 'ab', 'aab'].map((two) => `${one}/${two}`),
    ])
    let met = 0
    for (let run = 0; run < 150; run++) {
      const patterns = Array.from(
        { length: 4 },
        () => `/${pick()}${random() < 0.5 ? `/${pick().replace('x', 'y')}` : ''}`,
      )
      const links = [surveyLink({ id: 1, slug: addresses[Math.floor(random() * addresses.length)]! })]
      const { state } = surveyOf(links, rules(...patterns))
      const { rules: compiled } = state.table.domains.get(1)!.rules
      const first = (slug: string) => compiled.find((rule) => rule.take(slug, NOBODY, () => []))?.row.id
      for (const { row, fits } of compiled) {
        const reach = ruleReach(state, 1, row.id)!
        const said = JSON.stringify([patterns, row.id, reach])
        if (reach.example !== undefined) {
          expect(first(reach.example), said).toBe(row.id)
          expect(reach.example, said).not.toBe(links[0]!.canonical)
        } else {
          expect(
            addresses.filter((slug) => first(slug) === row.id && slug !== links[0]!.canonical),
            said,
          ).toEqual([])
        }
        for (const other of compiled) {
          if (other.row.id === row.id) continue
          const isBefore = other.row.id < row.id
          const meeting = (isBefore ? reach.before : reach.after).find(({ rule }) => rule === other.row.id)
          const both = addresses.filter((slug) => fits(slug) && other.fits(slug))
          if (!meeting) expect(both, said).toEqual([])
          else {
            met++
            expect(fits(meeting.witness) && other.fits(meeting.witness), said).toBe(true)
            const later = isBefore ? fits : other.fits
            if (meeting.whole) expect(addresses.filter((slug) => later(slug)).length, said).toBe(both.length)
          }
        }
      }
    }
    expect(met).toBeGreaterThan(200)
  })
})
