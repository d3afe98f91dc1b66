import { describe, expect, it } from 'vitest'
import { lookUpLanguage } from '../../../core/conditions'

describe('lookup (RFC 4647 §3.4)', () => {
  // The pattern of Table 3: “zh-Hant-CN-x-private1-private2” is shortened in these steps.
  const steps = ['zh-Hant-CN-x-private1-private2', 'zh-Hant-CN-x-private1', 'zh-Hant-CN', 'zh-Hant', 'zh']
  it.each(steps)('“zh-Hant-CN-x-private1-private2” comes to %s', (step) => {
    expect(lookUpLanguage(steps[0]!, [step])).toBe(step.toLowerCase())
    expect(lookUpLanguage(steps[0]!, ['de', step])).toBe(step.toLowerCase())
  })
  it('never to a tag that ends in a single letter', () =>
    expect(lookUpLanguage(steps[0]!, ['zh-Hant-CN-x'])).toBeUndefined())
  it('takes the longest that is there', () => expect(lookUpLanguage(steps[0]!, steps)).toBe(steps[0]!.toLowerCase()))
  // §3.4: "In the lookup scheme, this range does not convey enough information by itself".
  it('passes “*” over', () => expect(lookUpLanguage('*', ['en'])).toBeUndefined())
  it('gives nothing where no range comes to a tag', () =>
    expect(lookUpLanguage('fr-FR, fr', ['en', 'de'])).toBeUndefined())
})

describe('Accept-Language (RFC 9110 §12.5.4)', () => {
  // “I prefer Danish, but will accept British English and other types of English.”
  const example = 'da, en-gb;q=0.8, en;q=0.7'
  it.each([
    [['da', 'en', 'en-gb'], 'da'],
    [['en', 'en-gb'], 'en-gb'],
    [['en'], 'en'],
    [['de'], undefined],
  ])('“da, en-gb;q=0.8, en;q=0.7” among %j: %s', (available, wanted) =>
    expect(lookUpLanguage(example, available)).toBe(wanted),
  )
  // §12.4.2: a weight of 0 means "not acceptable", and 1 is the default.
  it('leaves out what has weight 0', () => expect(lookUpLanguage('en;q=0, da;q=0.1', ['en', 'da'])).toBe('da'))
})
