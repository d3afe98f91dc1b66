import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { readCampaign, withCampaign } from '../../../core/address'

const PAGE = 'https://www.example/a;b?x=1&&y=%2f&utm_source=mail&z#top'

describe('campaign parameters', () => {
  it('are read from a destination', () => {
    expect(readCampaign(PAGE)).toEqual({ source: 'mail' })
    expect(readCampaign('https://www.example/?utm_campaign=spring%20sale')).toEqual({ campaign: 'spring sale' })
    for (const none of ['', 'www.example', 'tel:+351', 'https://www.example/']) expect(readCampaign(none)).toEqual({})
  })

  it('are put in, replaced and removed; all else stays byte for byte', () => {
    expect(withCampaign(PAGE, { source: 'poster' })).toBe('https://www.example/a;b?x=1&&y=%2f&z&utm_source=poster#top')
    expect(withCampaign(PAGE, {})).toBe('https://www.example/a;b?x=1&&y=%2f&z#top')
    expect(withCampaign('https://www.example/?utm_medium=a#b', {})).toBe('https://www.example/#b')
    expect(withCampaign('https://www.example/?', { medium: 'x' })).toBe('https://www.example/?utm_medium=x')
    expect(withCampaign('not an address', { medium: 'x' })).toBe('not an address')
  })

  it('let a person type two words: the blank between them stays while it is the last character', () => {
    const typed = withCampaign('https://www.example/', { campaign: 'spring ' })
    expect(readCampaign(typed)).toEqual({ campaign: 'spring ' })
    expect(withCampaign(typed, { campaign: ' ' })).toBe('https://www.example/')
  })

  it('are read as they were put in, whatever they are', () =>
    fc.assert(
      fc.property(
        fc.string({ unit: 'grapheme', minLength: 1 }),
        fc.webUrl({ withQueryParameters: true }),
        (value, url) => {
          fc.pre(value.trim() !== '' && value.isWellFormed())
          expect(readCampaign(withCampaign(url, { term: value })).term).toBe(value)
        },
      ),
    ))
})
