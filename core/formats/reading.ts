import type { FileLink, FileRefusal, FileRule, Place, Reading } from './format'

/** Said of files whose server compares and captures decoded paths (RFC 3986, section 2.2, on reserved characters). */
export const READS_ESCAPES =
  'The server decodes an address first: “%2B” is “+” to it, and what it captured is escaped again; here reserved ' +
  'characters stay as they were sent.'

/** So many lines of one file are read; what follows is told as not read. */
export const MAX_LINES = 200_000
/** Longest line read, in UTF-16 units. */
export const MAX_LINE = 20_000
/** So much of a line is kept to show it. */
const SHOWN = 300

/** Collects what a file holds, and gives refusals and remarks the place they speak of. */
export class ReadingMaker {
  readonly reading: Reading
  constructor(readAs: string) {
    this.reading = { entries: [], refusals: [], remarks: [], readAs, lines: 0 }
  }
  link(link: FileLink): void {
    this.reading.entries.push({ kind: 'link', link })
  }
  rule(rule: FileRule): void {
    this.reading.entries.push({ kind: 'rule', rule })
  }
  refuse(place: Place, code: string, source: string, sentence: string, would = ''): void {
    const { file, line, column } = place
    const refusal: FileRefusal = { file, line, column, code, source: source.slice(0, SHOWN), sentence, would }
    this.reading.refusals.push(refusal)
  }
  remark({ file, line, column }: Place, sentence: string): void {
    this.reading.remarks.push({ file, line, column, sentence })
  }
}

export interface Line {
  number: number
  text: string
}

/** The lines of a text, without their ends, at most `most`; a byte order mark is passed over. */
export function* linesOf(text: string, most = MAX_LINES): Generator<Line> {
  let at = text.charCodeAt(0) === 0xfeff ? 1 : 0
  for (let number = 1; at <= text.length && number <= most; number++) {
    let end = text.indexOf('\n', at)
    if (end === -1) end = text.length
    const stop = end > at && text[end - 1] === '\r' ? end - 1 : end
    if (stop - at > MAX_LINE) yield { number, text: text.slice(at, at + MAX_LINE + 1) }
    else yield { number, text: text.slice(at, stop) }
    at = end + 1
  }
}

/** How many lines a text has. */
export function countLines(text: string): number {
  let count = text === '' || text.endsWith('\n') ? 0 : 1
  for (let at = text.indexOf('\n'); at !== -1; at = text.indexOf('\n', at + 1)) count++
  return count
}
