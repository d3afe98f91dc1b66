import { readFileAddress } from '../address'
import type { Format, Place, ReadOptions, Reading, SourceFile } from '../format'
import { FORMAT_NAMES } from '../kinds'
import { linesOf, MAX_LINE, ReadingMaker } from '../reading'
import { readStatus } from '../status'

const ARROW = /\s+(?:→|->|=>)\s+/

/**
 * A list of `path destination status`, one a line, parted by blanks; `path → destination` as well. Lines that begin
 * with `#` are comments.
 */
function read(files: readonly SourceFile[], _options: ReadOptions): Reading {
  const made = new ReadingMaker('a list of path, destination and status')
  for (const { name, text } of files) {
    for (const { number, text: line } of linesOf(text)) {
      made.reading.lines++
      if (/^\s*(?:#|$)/.test(line)) continue
      const place: Place = { file: name, line: number, column: line.search(/\S/) + 1 }
      if (line.length > MAX_LINE) {
        made.refuse(place, 'long-line', line, `The line is longer than ${MAX_LINE.toLocaleString('en')} characters.`)
        continue
      }
      readLine(made, place, line)
    }
  }
  return made.reading
}

function readLine(made: ReadingMaker, place: Place, line: string): void {
  const [address = '', destination = '', status = '', ...more] = line.trim().replace(ARROW, ' ').split(/\s+/)
  const at = (part: string) => ({ ...place, column: line.indexOf(part, place.column - 1) + 1 })
  const where = readFileAddress(address)
  if ('sentence' in where) return made.refuse(place, 'address', line, where.sentence, 'Write the path, like /fares.')
  if (address.includes('*'))
    return made.refuse(
      at('*'),
      'wildcard',
      line,
      'A “*” in a list does not say what becomes of the rest.',
      `Make a rule of it: its pattern would be ${address}.`,
    )
  const gone = readStatus(destination) === 'gone' && status === ''
  if (destination === '')
    return made.refuse(place, 'no-destination', line, 'There is no destination.', 'Write “/path https://… 301”.')
  const told = status === '' || gone ? undefined : readStatus(status)
  if (status !== '' && told === undefined)
    return made.refuse(
      at(status),
      'status',
      line,
      `“${status}” is no status of a redirect.`,
      'Write 301, 302, 303, 307, 308 or 410, or leave it out.',
    )
  if (more.length > 0 && !more[0]!.startsWith('#'))
    return made.refuse(
      at(more[0]!),
      'too-much',
      line,
      `After the status stands “${more.join(' ').slice(0, 60)}”.`,
      'Write blanks of a destination as %20.',
    )
  made.link({
    ...place,
    ...where,
    destination: gone || told === 'gone' ? null : destination,
    ...(typeof told === 'number' && { status: told }),
  })
}

export const plain: Format = {
  id: 'plain',
  name: FORMAT_NAMES.plain,
  source: 'Common practice, no single source.',
  endings: ['txt', 'list'],
  resembles({ text }) {
    const lines = [...linesOf(text.slice(0, 4000))].filter(({ text: line }) => !/^\s*(?:#|$)/.test(line)).slice(0, 20)
    const fits = lines.filter(({ text: line }) => /^\s*[^\s"<>{},;]+(?:\s+|\s*(?:→|->|=>)\s*)https?:\/\/\S+/.test(line))
    return lines.length === 0 ? 0 : (0.9 * fits.length) / lines.length
  },
  read,
}
