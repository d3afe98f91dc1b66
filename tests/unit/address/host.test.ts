import fc from 'fast-check'
import { toASCII } from 'tr46'
import { describe, expect, it } from 'vitest'
import { readHost } from '../../../core/address'

/** A host by UTS #46's own tables (the package follows them), whatever it looks like. */
const byTables = (text: string): string | null =>
  toASCII(text, {
    checkBidi: true,
    checkHyphens: false,
    checkJoiners: true,
    useSTD3ASCIIRules: false,
    verifyDNSLength: true,
    transitionalProcessing: false,
  })

describe('a plain host', () => {
  const label = fc.stringMatching(/^[A-Za-z0-9-]{1,66}$/)
  it('is read without the tables as with them', () => {
    fc.assert(
      fc.property(fc.array(label, { minLength: 1, maxLength: 5 }), (labels) => {
        const text = labels.join('.')
        const [mine, theirs] = [readHost(text), byTables(text)]
        const sound = theirs !== null && theirs.split('.').every((one) => /^(?!-)[a-z0-9_-]{1,63}(?<!-)$/.test(one))
        expect(mine).toEqual(sound ? { ok: true, host: theirs } : { ok: false, reason: 'not-a-host' })
      }),
      { numRuns: 500 },
    )
  })

  // RFC 1035 §2.3.4: labels of at most 63 octets, names of at most 253 characters as they are written.
  it.each([
    ['a'.repeat(63) + '.example', true],
    ['a'.repeat(64) + '.example', false],
    [`${`${'a'.repeat(61)}.`.repeat(4)}abcde`, true],
    [`${`${'a'.repeat(61)}.`.repeat(4)}abcdef`, false],
  ])('is at most so long: %s', (text, fits) => {
    expect(readHost(text).ok).toBe(fits)
  })
})
