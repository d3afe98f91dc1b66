import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { addressesIn } from '../../../core/address'

describe('addresses in a text', () => {
  // How addresses stand in sentences: common practice, no source; RFC 3986 appendix C names angle brackets and quotes.
  it.each([
    ['See https://a.example/x.', ['https://a.example/x']],
    ['(https://a.example/x), https://b.example/?q=1!', ['https://a.example/x', 'https://b.example/?q=1']],
    ['<https://a.example/x> “https://b.example/y”', ['https://a.example/x', 'https://b.example/y']],
    ['https://a.example/wiki/Pier_(harbour) and', ['https://a.example/wiki/Pier_(harbour)']],
    ['(see https://a.example/wiki/Pier_(harbour))', ['https://a.example/wiki/Pier_(harbour)']],
    ['[text](https://a.example/x)', ['https://a.example/x']],
    ['**https://a.example/x**', ['https://a.example/x']],
    ['HTTP://A.example/X', ['HTTP://A.example/X']],
    ['https://a.example/ü/日本', ['https://a.example/ü/日本']],
    ['https:// http://? https://. nothing', []],
    ['https://a.example/x)(y) z', ['https://a.example/x)(y)']],
    ['xhttps://a.example', ['https://a.example']],
  ])('%s', (text, addresses) => {
    expect(addressesIn(text).map(({ address }) => address)).toEqual(addresses)
  })
  it('are found in a text made to keep one looking', () => {
    // A million brackets that close nothing: whoever looks back over them at each takes hours.
    for (const end of [')', '].', '(', '[(']) {
      const [found] = addressesIn('https://a.example/x' + end.repeat(1_000_000))
      expect(found!.address.startsWith('https://a.example/x')).toBe(true)
    }
  })
  it('stand where they are said to stand, in any text', () => {
    fc.assert(
      fc.property(fc.array(fc.oneof(fc.string(), fc.webUrl(), fc.constantFrom(' ', '\n', '(', ')', '.'))), (parts) => {
        const text = parts.join('')
        let from = 0
        for (const { start, end, address } of addressesIn(text)) {
          expect(text.slice(start, end)).toBe(address)
          expect(start).toBeGreaterThanOrEqual(from)
          from = end
        }
      }),
    )
  })
})
