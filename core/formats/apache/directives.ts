import { linesOf, MAX_LINES } from '../reading'
import type { Place, SourceFile } from '../format'

/** A directive of Apache’s configuration, or the begin or end of a section (Apache 2.4, “Configuration Files”). */
export interface Directive extends Place {
  name: string
  args: string[]
  /** As it stands in the file. */
  source: string
  /** Sections it stands in, the outermost first: name and argument. */
  within: readonly { name: string; argument: string }[]
}

/**
 * Reads directives: one a line, a backslash at the end goes on, `#` begins a comment line, arguments are parted by
 * blanks unless they stand in quotes. Sections are not directives; they are told by what stands in them.
 */
export function* directivesOf({ name, text }: SourceFile, maxLines = MAX_LINES): Generator<Directive> {
  const open: { name: string; argument: string }[] = []
  let held = ''
  let began = 0
  for (const { number, text: line } of linesOf(text, maxLines)) {
    if (held === '') began = number
    if (line.endsWith('\\') && !line.endsWith('\\\\')) {
      held += line.slice(0, -1)
      continue
    }
    const source = held + line
    held = ''
    const bare = source.trim()
    if (bare === '' || bare.startsWith('#')) continue
    const place = { file: name, line: began, column: source.search(/\S/) + 1 }
    const section = /^<(\/?)([A-Za-z]+)\s*([^>]*)>?$/.exec(bare)
    if (section) {
      if (section[1] === '/') open.pop()
      else open.push({ name: section[2]!.toLowerCase(), argument: section[3]!.trim() })
      continue
    }
    const [first = '', ...args] = argumentsOf(bare)
    yield { ...place, name: first.toLowerCase(), args, source: bare, within: [...open] }
  }
}

/**
 * The words of a line: blanks part them, quotes of either kind hold them together. Within quotes a backslash keeps the
 * quote and itself (ap_getword_conf). `RewriteRule` and `RewriteCond` part theirs in a way of their own: a backslash
 * keeps any character, a blank too, and stays (mod_rewrite, parseargline).
 */
function argumentsOf(line: string): string[] {
  const rewriting = /^rewrite(?:rule|cond)\s/i.test(line)
  const words: string[] = []
  for (let at = 0; at < line.length;) {
    if (/\s/.test(line[at]!)) {
      at++
      continue
    }
    const quote = line[at] === '"' || line[at] === "'" ? line[at]! : ''
    let word = ''
    if (quote) at++
    while (at < line.length && (quote ? line[at] !== quote : !/\s/.test(line[at]!))) {
      const keeps = line[at] === '\\' && (rewriting || (quote && (line[at + 1] === quote || line[at + 1] === '\\')))
      if (keeps && rewriting) word += line[at]
      if (keeps) at++
      word += line[at++] ?? ''
    }
    if (quote) at++
    words.push(word)
  }
  return words
}

/** Where a directive stands, without the rest of it. */
export const placeOf = ({ file, line, column }: Place): Place => ({ file, line, column })
