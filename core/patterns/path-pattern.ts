import { foldCase } from '../address/case-folding'
import { decodePath } from '../address/percent'
import { foldSet, negate } from './charset'
import { readExpression } from './expression'
import { cat, EMPTY, PatternFault, set, type Node } from './node'

type Token =
  | { kind: 'char'; text: string }
  | { kind: 'name' | 'regexp' | 'modifier' | 'open' | 'close' | 'asterisk'; text: string }

const NAME_START = /^[$_\p{ID_Start}]$/u
const NAME_PART = /^[$_\u200c\u200d\p{ID_Continue}]$/u

/** Tokens of a pattern string (URL Pattern §2.1, tokenize, policy strict). */
function tokenize(source: string): Token[] {
  const text = [...source]
  const tokens: Token[] = []
  const single: Record<string, Token['kind']> = {
    '*': 'asterisk',
    '+': 'modifier',
    '?': 'modifier',
    '{': 'open',
    '}': 'close',
  }
  for (let at = 0; at < text.length;) {
    const character = text[at]!
    if (character === '\\') {
      if (at + 1 >= text.length)
        throw new PatternFault('A “\\” stands at the end; write “\\\\” for the character itself.')
      tokens.push({ kind: 'char', text: text[at + 1]! })
      at += 2
    } else if (character === ':') {
      let end = at + 1
      while (end < text.length && (end === at + 1 ? NAME_START : NAME_PART).test(text[end]!)) end++
      if (end === at + 1)
        throw new PatternFault('After “:” comes a name, like :id; write “\\:” for the character itself.')
      tokens.push({ kind: 'name', text: text.slice(at + 1, end).join('') })
      at = end
    } else if (character === '(') {
      const end = endOfGroup(text, at)
      tokens.push({ kind: 'regexp', text: text.slice(at + 1, end).join('') })
      at = end + 1
    } else {
      tokens.push({ kind: single[character] ?? 'char', text: character } as Token)
      at++
    }
  }
  return tokens
}

function endOfGroup(text: readonly string[], start: number): number {
  let depth = 1
  for (let at = start + 1; at < text.length; at++) {
    const character = text[at]!
    if (character > '\x7f')
      throw new PatternFault(`“${character}” cannot stand in a group in parentheses; only ASCII can.`)
    if (at === start + 1 && character === '?') throw new PatternFault('A group in parentheses cannot begin with “?”.')
    if (character === '\\') at++
    else if (character === ')' && --depth === 0) {
      if (at === start + 1)
        throw new PatternFault('A group in parentheses is empty; write an expression in it, like (\\d+).')
      return at
    } else if (character === '(') {
      depth++
      if (text[at + 1] !== '?')
        throw new PatternFault('Groups within a group in parentheses must not capture; write (?:…).')
    }
  }
  throw new PatternFault('A “(” is not closed; write “\\(” for the character itself.')
}

/**
 * Reads a URL Pattern pathname (URL Pattern §2.1, §2.3: delimiter and prefix “/”). What stands in parentheses is read
 * in RE2 syntax, so that matching stays linear. `fold` reads it without regard to capitals. Throws PatternFault.
 */
export function readPathPattern(source: string, fold: boolean): { node: Node; captures: Map<string, number> } {
  return new PathPatternReader(tokenize(source), fold).read()
}

class PathPatternReader {
  private at = 0
  private groups = 0
  private unnamed = 0
  private fixed = ''
  private readonly items: Node[] = []
  private readonly captures = new Map<string, number>()

  constructor(
    private readonly tokens: readonly Token[],
    private readonly fold: boolean,
  ) {}

  private take(kind: Token['kind']): Token | undefined {
    return this.tokens[this.at]?.kind === kind ? this.tokens[this.at++] : undefined
  }

  read(): { node: Node; captures: Map<string, number> } {
    while (this.at < this.tokens.length) {
      const char = this.take('char')
      const name = this.take('name')
      const matcher = this.matcher(name)
      if (name || matcher) {
        let prefix = char?.text ?? ''
        if (prefix !== '/') {
          this.fixed += prefix
          prefix = ''
        }
        this.flush()
        this.part(prefix, name, matcher, '', this.modifier())
        continue
      }
      const fixed = char ?? this.take('asterisk')
      if (fixed) {
        this.fixed += fixed.text
        continue
      }
      if (this.take('open')) {
        const prefix = this.text()
        const inner = this.take('name')
        const innerMatcher = this.matcher(inner)
        const suffix = this.text()
        if (!this.take('close'))
          throw new PatternFault(
            'A “{” is not closed, or holds more than one part; write “\\{” for the character itself.',
          )
        this.part(prefix, inner, innerMatcher, suffix, this.modifier())
        continue
      }
      throw new PatternFault(
        `“${this.tokens[this.at]!.text}” stands where it means nothing; write ` +
          `“\\${this.tokens[this.at]!.text}” for the character itself.`,
      )
    }
    this.flush()
    return { node: cat(this.items), captures: this.captures }
  }

  private text(): string {
    let text = ''
    for (let char = this.take('char'); char; char = this.take('char')) text += char.text
    return text
  }

  private matcher(name: Token | undefined): Token | undefined {
    return this.take('regexp') ?? (name ? undefined : this.take('asterisk'))
  }

  private modifier(): string {
    return (this.take('modifier') ?? this.take('asterisk'))?.text ?? ''
  }

  private flush(): void {
    if (this.fixed !== '') this.items.push(this.literal(this.fixed))
    this.fixed = ''
  }

  private part(
    prefix: string,
    name: Token | undefined,
    matcher: Token | undefined,
    suffix: string,
    modifier: string,
  ): void {
    if (!name && !matcher) {
      if (modifier === '') {
        this.fixed += prefix + suffix
        return
      }
      this.flush()
      if (prefix + suffix !== '') this.items.push(repeated(this.literal(prefix + suffix), modifier))
      return
    }
    this.flush()
    const label = name?.text ?? String(this.unnamed++)
    if (this.captures.has(label)) throw new PatternFault(`Two parts are named “${label}”; use different names.`)
    const index = ++this.groups
    this.captures.set(label, index)
    const inside: Node = !matcher
      ? { kind: 'repeat', item: set(negate([[0x2f, 0x2f]])), min: 1, max: Infinity, lazy: true }
      : matcher.kind === 'asterisk'
        ? { kind: 'repeat', item: set(negate([[10, 10]])), min: 0, max: Infinity, lazy: false }
        : readExpression(matcher.text, this.fold, 1).node
    const [before, after] = [this.literal(prefix), this.literal(suffix)]
    if (modifier === '' || modifier === '?') {
      const whole = cat([before, { kind: 'group', item: inside, index }, after])
      this.items.push(modifier === '?' ? repeated(whole, '?') : whole)
      return
    }
    // Repeated with what stands around it: prefix ((?:inside)(?:suffix prefix (?:inside))*) suffix, all of it optional
    // for “*”.
    const again: Node = { kind: 'repeat', item: cat([after, before, inside]), min: 0, max: Infinity, lazy: false }
    const whole = cat([before, { kind: 'group', item: cat([inside, again]), index }, after])
    this.items.push(modifier === '*' ? repeated(whole, '?') : whole)
  }

  /** Fixed text in the form canonical paths have it. */
  private literal(text: string): Node {
    if (text === '') return EMPTY
    const decoded = decodePath(text)
    if (!decoded.ok)
      throw new PatternFault(
        decoded.reason === 'control-character'
          ? 'A pattern cannot hold control characters.'
          : 'A “%” in the pattern begins no whole escape; write it as “%25”.',
      )
    const composed = decoded.text.normalize('NFC')
    const folded = this.fold ? foldCase(composed) : composed
    return cat(
      Array.from(folded, (character) => {
        const one = [[character.codePointAt(0)!, character.codePointAt(0)!]] as const
        return set(this.fold ? foldSet(one) : one)
      }),
    )
  }
}

const repeated = (item: Node, modifier: string): Node => ({
  kind: 'repeat',
  item,
  min: modifier === '+' ? 1 : 0,
  max: modifier === '?' ? 1 : Infinity,
  lazy: false,
})
