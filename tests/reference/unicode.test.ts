// The Unicode Character Database 15.1 (CaseFolding.txt, as carried by @unicode/unicode-15.1.0) and UTS #46.
import { domainToASCII } from 'node:url'
import common from '@unicode/unicode-15.1.0/Case_Folding/C/code-points.mjs'
import full from '@unicode/unicode-15.1.0/Case_Folding/F/code-points.mjs'
import { describe, expect, it } from 'vitest'
import { canonicalSlug, foldCase, readHost, showHost } from '../../core/address'

describe('full case folding, CaseFolding.txt statuses C and F', () => {
  it('folds every code point as the file says, and no other', () => {
    for (let code = 0; code <= 0x10ffff; code++) {
      if (code >= 0xd800 && code <= 0xdfff) continue
      const to = full.get(code) ?? common.get(code) ?? code
      const expected = String.fromCodePoint(...[to].flat())
      const folded = foldCase(String.fromCodePoint(code))
      if (folded !== expected) throw new Error(`U+${code.toString(16)}: ${folded}, not ${expected}`)
    }
    expect(common.size + full.size).toBeGreaterThan(1500)
  })

  // The Unicode Standard §5.18: caseless matching examples.
  it.each([
    ['Maße', 'MASSE'],
    ['ΌΣΟΣ', 'όσος'],
    ['ﬃ', 'FFI'],
  ])('%s is %s without regard to capitals', (one, other) => {
    const same = { capitalsMatter: false, trailingSlashMatters: false }
    expect(canonicalSlug(one, same)).toBe(canonicalSlug(other, same))
  })
})

// UTS #46 revision 31, §2 and §4.5, non-transitional processing.
describe('UTS #46', () => {
  it.each([
    ['Bloß.example', 'xn--blo-7ka.example'],
    ['faß.de', 'xn--fa-hia.de'],
    ['BücHer.de', 'xn--bcher-kva.de'],
    ['ÖBB.at', 'xn--bb-eka.at'],
    ['βόλος.com', 'xn--nxasmm1c.com'],
    ['日本語。ＪＰ', 'xn--wgv71a119e.jp'],
    ['☕.us', 'xn--53h.us'],
  ])('%s → %s', (typed, ascii) => {
    expect(readHost(typed)).toEqual({ ok: true, host: ascii })
    // ICU, through Node, as an independent implementation.
    expect(domainToASCII(typed)).toBe(ascii)
  })
  it('shows U-labels to people', () => expect(showHost('xn--fa-hia.de')).toBe('faß.de'))
  it.each(['xn--a.example', 'a..example', 'a\u200Db.example', '-a.example', 'x'.repeat(64) + '.example'])(
    'refuses %s',
    (typed) => {
      expect(readHost(typed).ok).toBe(false)
    },
  )
})
