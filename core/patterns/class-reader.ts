import { charSet, DIGIT, foldSet, negate, SPACE, unicodeClass, union, WORD, type CharSet } from './charset'
import { PatternFault } from './node'

const POSIX: Record<string, CharSet> = {
  alnum: [
    [0x30, 0x39],
    [0x41, 0x5a],
    [0x61, 0x7a],
  ],
  alpha: [
    [0x41, 0x5a],
    [0x61, 0x7a],
  ],
  ascii: [[0, 0x7f]],
  blank: [
    [9, 9],
    [0x20, 0x20],
  ],
  cntrl: [
    [0, 0x1f],
    [0x7f, 0x7f],
  ],
  digit: DIGIT,
  graph: [[0x21, 0x7e]],
  lower: [[0x61, 0x7a]],
  print: [[0x20, 0x7e]],
  punct: [
    [0x21, 0x2f],
    [0x3a, 0x40],
    [0x5b, 0x60],
    [0x7b, 0x7e],
  ],
  space: [
    [9, 0x0d],
    [0x20, 0x20],
  ],
  upper: [[0x41, 0x5a]],
  word: WORD,
  xdigit: [
    [0x30, 0x39],
    [0x41, 0x46],
    [0x61, 0x66],
  ],
}
const PERL: Record<string, CharSet> = { d: DIGIT, w: WORD, s: SPACE }
const CONTROL: Record<string, number> = { a: 7, f: 12, t: 9, n: 10, r: 13, v: 11 }

/** What “(?…)” switches on and off. */
export interface Flags {
  fold: boolean
  dotAll: boolean
  multiline: boolean
  ungreedy: boolean
}

/** Reads the classes of characters of RE2 syntax: in brackets, by name, and by escapes. Throws PatternFault. */
export class ClassReader {
  protected readonly text: string[]
  protected at = 0

  constructor(source: string) {
    this.text = [...source]
  }

  protected peek(ahead = 0): string | undefined {
    return this.text[this.at + ahead]
  }
  protected ahead(text: string): boolean {
    return [...text].every((character, index) => this.peek(index) === character)
  }

  /** An escape that stands for a character (its code point) or for a set, within or outside of brackets. */
  protected classEscape(flags: Flags): number | CharSet {
    const character = this.text[this.at++]
    if (character === undefined)
      throw new PatternFault('A “\\” stands at the end; write “\\\\” for the character itself.')
    const perl = PERL[character.toLowerCase()]
    if (perl) return character === character.toLowerCase() ? this.folded(perl, flags) : negate(this.folded(perl, flags))
    if (character === 'p' || character === 'P') return this.property(character === 'P', flags)
    if (character in CONTROL) return CONTROL[character]!
    if (character === 'x') {
      const match = /^(?:\{([0-9a-fA-F]{1,8})\}|([0-9a-fA-F]{2}))/.exec(this.text.slice(this.at, this.at + 12).join(''))
      const code = match ? parseInt(match[1] ?? match[2]!, 16) : NaN
      if (!match || code > 0x10ffff)
        throw new PatternFault('“\\x” needs two hexadecimal digits, as in \\x2F, or braces, as in \\x{E9}.')
      this.at += match[0].length
      return code
    }
    if (character === '0') {
      const match = /^[0-7]{0,2}/.exec(this.text.slice(this.at, this.at + 2).join(''))![0]
      this.at += match.length
      return parseInt('0' + match, 8)
    }
    if (/[A-Za-z0-9]/.test(character)) throw new PatternFault(`“\\${character}” means nothing here.`)
    return character.codePointAt(0)!
  }

  private property(negated: boolean, flags: Flags): CharSet {
    let name = this.text[this.at++] ?? ''
    if (name === '{') {
      const end = this.text.indexOf('}', this.at)
      if (end < 0) throw new PatternFault('“\\p{” is not closed; write a class like \\p{Greek} or \\pL.')
      name = this.text.slice(this.at, end).join('')
      this.at = end + 1
    }
    const inverted = name.startsWith('^')
    const found = unicodeClass(inverted ? name.slice(1) : name)
    if (!found) throw new PatternFault(`There is no Unicode class “${name}”; use one like \\pL, \\p{Nd} or \\p{Greek}.`)
    const folded = this.folded(found, flags)
    return negated !== inverted ? negate(folded) : folded
  }

  protected charClass(flags: Flags): CharSet {
    const negated = this.peek() === '^'
    if (negated) this.at++
    const parts: CharSet[] = []
    for (let begun = false; ; begun = true) {
      const character = this.peek()
      if (character === undefined) throw new PatternFault('A “[” is not closed; write “\\[” for the character itself.')
      if (character === ']' && begun) {
        this.at++
        break
      }
      const posix = /^\[:(\^?)(\w+):\]/.exec(this.text.slice(this.at, this.at + 14).join(''))
      if (posix) {
        const found = POSIX[posix[2]!]
        if (!found) throw new PatternFault(`There is no class “[:${posix[2]}:]”; use one like [:alpha:] or [:digit:].`)
        this.at += posix[0].length
        parts.push(posix[1] ? negate(this.folded(found, flags)) : found)
        continue
      }
      const low = this.classMember(flags)
      if (typeof low !== 'number') {
        parts.push(low)
        continue
      }
      if (this.peek() === '-' && this.peek(1) !== ']' && this.peek(1) !== undefined) {
        this.at++
        const high = this.classMember(flags)
        if (typeof high !== 'number' || high < low)
          throw new PatternFault(`The range from “${String.fromCodePoint(low)}” runs backwards or has no end.`)
        parts.push([[low, high]])
      } else parts.push([[low, low]])
    }
    const all = this.folded(union(...parts), flags)
    return negated ? negate(all) : all
  }

  private classMember(flags: Flags): number | CharSet {
    if (this.peek() !== '\\') return this.text[this.at++]!.codePointAt(0)!
    this.at++
    return this.classEscape(flags)
  }

  private folded(chars: CharSet, flags: Flags): CharSet {
    return flags.fold ? foldSet(charSet(chars)) : charSet(chars)
  }
}
