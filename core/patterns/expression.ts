import { foldCase } from '../address/case-folding'
import { ANY, charSet, DIGIT, foldSet, negate, SPACE, unicodeClass, union, WORD, type CharSet } from './charset'
import { alt, cat, PatternFault, set, type Node } from './node'

/** RE2's own bound on counted repetition (RE2 syntax: "implementation restriction"). */
const MOST_REPEAT = 1000
const MOST_DEPTH = 100

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

interface Flags {
  fold: boolean
  dotAll: boolean
  multiline: boolean
  ungreedy: boolean
}

export interface ExpressionReading {
  node: Node
  names: Map<string, number>
  groups: number
}

/**
 * Reads an expression in RE2 syntax (github.com/google/re2/wiki/Syntax). `foldAll` reads it as if `(?i)` stood before
 * it,
 * with full folding of what is written out. `first` is the number of its first group. Throws PatternFault.
 */
export function readExpression(source: string, foldAll = false, first = 1): ExpressionReading {
  return new ExpressionReader(source, foldAll, first).read()
}

class ExpressionReader {
  private readonly text: string[]
  private at = 0
  private depth = 0
  private groups: number
  private readonly names = new Map<string, number>()

  constructor(
    source: string,
    private readonly foldAll: boolean,
    private readonly first: number,
  ) {
    this.text = [...source]
    this.groups = first - 1
  }

  read(): ExpressionReading {
    const node = this.alternatives({ fold: this.foldAll, dotAll: false, multiline: false, ungreedy: false })
    if (this.at < this.text.length)
      throw new PatternFault('A “)” closes no group; write “\\)” for the character itself.')
    return { node, names: this.names, groups: this.groups - this.first + 1 }
  }

  private peek(ahead = 0): string | undefined {
    return this.text[this.at + ahead]
  }
  private ahead(text: string): boolean {
    return [...text].every((character, index) => this.peek(index) === character)
  }

  private alternatives(flags: Flags): Node {
    if (++this.depth > MOST_DEPTH) throw new PatternFault(`Groups may be nested ${MOST_DEPTH} deep at most.`)
    const own = { ...flags }
    const items = [this.sequence(own)]
    while (this.peek() === '|') {
      this.at++
      items.push(this.sequence(own))
    }
    this.depth--
    return alt(items)
  }

  private sequence(flags: Flags): Node {
    const items: Node[] = []
    while (this.at < this.text.length && this.peek() !== '|' && this.peek() !== ')') {
      const item = this.piece(flags)
      if (item) items.push(item)
    }
    return cat(items)
  }

  private piece(flags: Flags): Node | undefined {
    const character = this.text[this.at]!
    if ('*+?'.includes(character) || (character === '{' && this.counted()))
      throw new PatternFault(`“${character}” repeats nothing; write “\\${character}” for the character itself.`)
    const atom = this.atom(flags)
    if (!atom) return undefined
    return this.repeated(atom, flags)
  }

  private repeated(atom: Node, flags: Flags): Node {
    const bounds = this.bounds()
    if (!bounds) return atom
    let lazy = flags.ungreedy
    if (this.peek() === '?') {
      this.at++
      lazy = !lazy
    }
    const more = this.peek()
    if (more !== undefined && ('*+?'.includes(more) || (more === '{' && this.counted())))
      throw new PatternFault(`“${more}” repeats a repetition; put it in a group first.`)
    return { kind: 'repeat', item: atom, min: bounds[0], max: bounds[1], lazy }
  }

  private bounds(): [number, number] | undefined {
    switch (this.peek()) {
      case '*':
        this.at++
        return [0, Infinity]
      case '+':
        this.at++
        return [1, Infinity]
      case '?':
        this.at++
        return [0, 1]
      case '{': {
        const counted = this.counted()
        if (!counted) return undefined
        this.at += counted.length
        if (counted.min > MOST_REPEAT || (counted.max !== Infinity && counted.max > MOST_REPEAT))
          throw new PatternFault(`A repetition may count to ${MOST_REPEAT} at most.`)
        if (counted.min > counted.max)
          throw new PatternFault(`“{${counted.min},${counted.max}}” asks for more at least than at most.`)
        return [counted.min, counted.max]
      }
    }
    return undefined
  }

  private counted(): { min: number; max: number; length: number } | undefined {
    const match = /^\{(\d+)(?:(,)(\d*))?\}/.exec(this.text.slice(this.at, this.at + 20).join(''))
    if (!match) return undefined
    const min = Number(match[1])
    return {
      min,
      max: match[2] === undefined ? min : match[3] === '' ? Infinity : Number(match[3]),
      length: match[0].length,
    }
  }

  private atom(flags: Flags): Node | undefined {
    const character = this.text[this.at++]!
    switch (character) {
      case '(':
        return this.group(flags)
      case '[':
        return set(this.charClass(flags))
      case '.':
        return set(flags.dotAll ? ANY : negate([[10, 10]]))
      // Paths hold no line breaks: a line's begin and end are the text's.
      case '^':
        return { kind: 'assert', at: 'start' }
      case '$':
        return { kind: 'assert', at: 'end' }
      case '\\':
        return this.escape(flags)
      default:
        return this.literal(character, flags)
    }
  }

  private literal(character: string, flags: Flags): Node {
    if (!flags.fold) return set([[character.codePointAt(0)!, character.codePointAt(0)!]])
    const folded = this.foldAll ? foldCase(character) : character
    return cat(Array.from(folded, (one) => set(foldSet([[one.codePointAt(0)!, one.codePointAt(0)!]]))))
  }

  private group(flags: Flags): Node | undefined {
    let index: number | undefined
    let inside = flags
    if (this.peek() !== '?') index = ++this.groups
    else {
      const named = /^\?P?<([^>]*)>/.exec(this.text.slice(this.at, this.at + 80).join(''))
      if (this.ahead('?=') || this.ahead('?!') || this.ahead('?<=') || this.ahead('?<!')) {
        throw new PatternFault(
          'Look-ahead and look-behind (“(?=…”, “(?!…”, “(?<=…”) cannot be matched in linear time and are not allowed.',
        )
      }
      if (named) {
        if (!/^\w+$/.test(named[1]!))
          throw new PatternFault(`“${named[1]}” cannot name a group; use letters, digits and “_”.`)
        if (this.names.has(named[1]!))
          throw new PatternFault(`Two groups are named “${named[1]}”; give each a name of its own.`)
        index = ++this.groups
        this.names.set(named[1]!, index)
        this.at += named[0].length
      } else {
        const set = /^\?([imsU]*)(?:-([imsU]+))?([:)])/.exec(this.text.slice(this.at, this.at + 20).join(''))
        if (!set || (set[1] === '' && set[2] === undefined && set[3] === ')'))
          throw new PatternFault('After “(?” comes a name, like (?P<line>…), flags, like (?i), or “:”.')
        this.at += set[0].length
        const changed = { ...flags }
        const apply = (letters: string, to: boolean) => {
          if (letters.includes('i')) changed.fold = to || this.foldAll
          if (letters.includes('s')) changed.dotAll = to
          if (letters.includes('m')) changed.multiline = to
          if (letters.includes('U')) changed.ungreedy = to
        }
        apply(set[1]!, true)
        apply(set[2] ?? '', false)
        if (set[3] === ')') {
          Object.assign(flags, changed)
          return undefined
        }
        inside = changed
      }
    }
    const item = this.alternatives(inside)
    if (this.peek() !== ')') throw new PatternFault('A “(” is not closed; write “\\(” for the character itself.')
    this.at++
    return index === undefined ? item : { kind: 'group', item, index }
  }

  private escape(flags: Flags): Node {
    const character = this.peek()
    if (character === undefined)
      throw new PatternFault('A “\\” stands at the end; write “\\\\” for the character itself.')
    this.at++
    if (character === 'A') return { kind: 'assert', at: 'start' }
    if (character === 'z') return { kind: 'assert', at: 'end' }
    if (character === 'b') return { kind: 'assert', at: 'word' }
    if (character === 'B') return { kind: 'assert', at: 'not-word' }
    if (character === 'Q') {
      const items: Node[] = []
      while (this.at < this.text.length && !this.ahead('\\E')) items.push(this.literal(this.text[this.at++]!, flags))
      if (this.at < this.text.length) this.at += 2
      return cat(items)
    }
    if (/[1-9]/.test(character))
      throw new PatternFault(`Back-references (“\\${character}”) cannot be matched in linear time and are not allowed.`)
    this.at--
    const read = this.classEscape(flags)
    return typeof read === 'number' ? this.literal(String.fromCodePoint(read), flags) : set(read)
  }

  /** An escape that stands for a character (its code point) or for a set, within or outside of brackets. */
  private classEscape(flags: Flags): number | CharSet {
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

  private charClass(flags: Flags): CharSet {
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
