import type { Place, SourceFile } from '../format'

/**
 * A directive of nginx, with the block it opens (nginx documentation, “Beginner’s Guide: Configuration File’s
 * Structure”).
 */
export interface Statement extends Place {
  name: string
  args: string[]
  block: Statement[] | undefined
  source: string
}

export interface Fault extends Place {
  sentence: string
}

/** How deep blocks may stand in each other. */
const MAX_DEPTH = 20

/**
 * Parses a configuration: words parted by blanks, `;` ends a directive, braces hold a block, `#` begins a comment,
 * quotes of either kind hold words together. What is wrong is told with its place; what could be read is given.
 */
export function parseNginx({ name: file, text }: SourceFile): { statements: Statement[]; faults: Fault[] } {
  const top: Statement[] = []
  const faults: Fault[] = []
  const open: Statement[] = []
  let words: { text: string; line: number; column: number; from: number }[] = []
  let line = 1
  let lineBegan = 0
  const into = () => open.at(-1)?.block ?? top
  const finish = (end: number, block: Statement[] | undefined) => {
    const [first, ...args] = words
    words = []
    if (!first) return undefined
    const statement: Statement = {
      file,
      line: first.line,
      column: first.column,
      name: first.text.toLowerCase(),
      args: args.map((word) => word.text),
      block,
      source: text.slice(first.from, Math.min(end, first.from + 300)).trim(),
    }
    into().push(statement)
    return statement
  }
  for (let at = text.charCodeAt(0) === 0xfeff ? 1 : 0; at < text.length;) {
    const character = text[at]!
    if (character === '\n') {
      line++
      at++
      lineBegan = at
    } else if (/\s/.test(character)) at++
    else if (character === '#') {
      const end = text.indexOf('\n', at)
      at = end === -1 ? text.length : end
    } else if (character === ';') {
      if (!finish(at, undefined))
        faults.push({ file, line, column: at - lineBegan + 1, sentence: 'A “;” ends nothing.' })
      at++
    } else if (character === '{') {
      const opened = finish(at, [])
      if (!opened) faults.push({ file, line, column: at - lineBegan + 1, sentence: 'A “{” opens nothing.' })
      else if (open.length >= MAX_DEPTH) {
        faults.push({ file, line, column: at - lineBegan + 1, sentence: `Blocks stand more than ${MAX_DEPTH} deep.` })
        return { statements: top, faults }
      } else open.push(opened)
      at++
    } else if (character === '}') {
      if (words.length > 0) {
        faults.push({ file, line, column: at - lineBegan + 1, sentence: `“${words[0]!.text}” is not ended by “;”.` })
        words = []
      }
      if (!open.pop()) faults.push({ file, line, column: at - lineBegan + 1, sentence: 'A “}” closes nothing.' })
      at++
    } else {
      const word = wordAt(text, at)
      words.push({ text: word.text, line, column: at - lineBegan + 1, from: at })
      for (
        let inside = text.indexOf('\n', at);
        inside !== -1 && inside < word.end;
        inside = text.indexOf('\n', inside + 1)
      ) {
        line++
        lineBegan = inside + 1
      }
      at = word.end
    }
  }
  if (words.length > 0) faults.push({ file, line, column: 1, sentence: `“${words[0]!.text}” is not ended by “;”.` })
  if (open.length > 0)
    faults.push({
      file,
      line: open.at(-1)!.line,
      column: open.at(-1)!.column,
      sentence: `The block of “${open.at(-1)!.name}” is not closed.`,
    })
  return { statements: top, faults }
}

/** A word: in quotes, or up to a blank, `;` or a brace; the braces of `${name}` belong to it. */
function wordAt(text: string, start: number): { text: string; end: number } {
  const quote = text[start] === '"' || text[start] === "'" ? text[start]! : ''
  let at = quote ? start + 1 : start
  let word = ''
  while (at < text.length) {
    const character = text[at]!
    if (quote ? character === quote : /[\s;]/.test(character)) break
    if (!quote && character === '{') {
      if (word.endsWith('$')) {
        const end = text.indexOf('}', at)
        if (end === -1) break
        word += text.slice(at, end + 1)
        at = end + 1
        continue
      }
      break
    }
    if (!quote && character === '}') break
    if (character === '\\' && at + 1 < text.length) {
      // A backslash keeps the quote; before anything else it stays, as expressions want it.
      if (quote && text[at + 1] === quote) word += quote
      else word += character + text[at + 1]!
      at += 2
      continue
    }
    word += character
    at++
  }
  return { text: word, end: quote ? at + 1 : at }
}
