import { foldCase } from '../address/case-folding'
import { ANY, foldSet, negate } from './charset'
import { ClassReader, type Flags } from './class-reader'
import { alt, cat, PatternFault, set, type Node } from './node'

/** RE2's own bound on counted repetition (RE2 syntax: "implementation restriction"). */
const MAX_REPEAT = 1000
const MAX_DEPTH = 100

export interface ExpressionReading {
  node: Node
  names: Map<string, number>
  groups: number
}

/**
 * Reads an expression in RE2 syntax (github.com/google/re2/wiki/Syntax). `foldAll` reads it as if `(?i)` stood before
 * it, with full folding of what is written out. `first` is the number of its first group. Throws PatternFault.
 */
export function readExpression(source: string, foldAll = false, first = 1): ExpressionReading {
  return new ExpressionReader(source, foldAll, first).read()
}

class ExpressionReader extends ClassReader {
  private depth = 0
  private groups: number
  private readonly names = new Map<string, number>()

  constructor(
    source: string,
    private readonly foldAll: boolean,
    private readonly first: number,
  ) {
    super(source)
    this.groups = first - 1
  }

  read(): ExpressionReading {
    const node = this.alternatives({ fold: this.foldAll, dotAll: false, multiline: false, ungreedy: false })
    if (this.at < this.text.length)
      throw new PatternFault('A “)” closes no group; write “\\)” for the character itself.')
    return { node, names: this.names, groups: this.groups - this.first + 1 }
  }

  private alternatives(flags: Flags): Node {
    if (++this.depth > MAX_DEPTH) throw new PatternFault(`Groups may be nested ${MAX_DEPTH} deep at most.`)
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
        if (counted.min > MAX_REPEAT || (counted.max !== Infinity && counted.max > MAX_REPEAT))
          throw new PatternFault(`A repetition may count to ${MAX_REPEAT} at most.`)
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
          throw new PatternFault(`Two groups are named “${named[1]}”; use different names.`)
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
}
