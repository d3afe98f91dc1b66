import Papa from 'papaparse'
import { readFileAddress } from '../address'
import type { ColumnField, Columns, Format, LinkDetails, Place, ReadOptions, Reading, SourceFile } from '../format'
import { FORMAT_NAMES } from '../kinds'
import { MAX_LINE, MAX_LINES, ReadingMaker } from '../reading'
import { readStatus } from '../status'
import { matchColumns } from './columns'
import { unguarded } from './guard'

const DELIMITERS = [',', ';', '\t', '|'] as const
const DELIMITER_WORDS: Record<string, string> = { ',': 'commas', ';': 'semicolons', '\t': 'tabs', '|': 'bars' }

interface Row {
  line: number
  cells: string[]
}

/** Tables as text: CSV (RFC 4180), with any delimiter, and what is pasted from a spreadsheet. */
function read(files: readonly SourceFile[], options: ReadOptions): Reading {
  const [first] = files
  const delimiter = options.delimiter ?? (first ? delimiterOf(first.text) : ',')
  const made = new ReadingMaker(`a table whose columns are parted by ${DELIMITER_WORDS[delimiter] ?? `“${delimiter}”`}`)
  for (const file of files) {
    const { rows, columns, headed } = rowsOf(made, file, delimiter, options.columns)
    made.reading.lines += rows.length
    if (columns.destination === undefined) {
      made.refuse(
        { file: file.name, line: 1, column: 1 },
        'columns',
        rows[0]?.cells.join(delimiter) ?? '',
        'No column holds where the addresses lead.',
        'Say which column holds the destination.',
      )
      continue
    }
    for (const row of rows.slice(headed ? 1 : 0)) readRow(made, file.name, row, columns)
  }
  return made.reading
}

/** The delimiter by which the first lines fall into most columns alike. */
export function delimiterOf(text: string): string {
  const sample = text.slice(0, 20_000)
  const { meta } = Papa.parse<string[]>(sample, { preview: 50, delimitersToGuess: [...DELIMITERS] })
  return DELIMITERS.find((one) => one === meta.delimiter) ?? ','
}

/** Columns a table can have. */
const MAX_COLUMNS = 1000
const QUOTE = 0x22
const NEWLINE = 0x0a

/**
 * The first line with more columns than a table can have, counted from 1; found before cells are made of it. A quote
 * opens a cell at its begin only (RFC 4180 §2).
 */
function wideLine(text: string, delimiter: string): number | undefined {
  const parts = delimiter.charCodeAt(0)
  let line = 1
  let columns = 1
  let isQuoted = false
  let beginsCell = true
  let closedAt = -1
  for (let at = 0; at < text.length; at++) {
    const code = text.charCodeAt(at)
    if (code === NEWLINE) line++
    if (isQuoted) {
      if (code === QUOTE) {
        isQuoted = false
        closedAt = at
      }
      continue
    }
    // A doubled quote within a quoted cell closes and opens it again.
    isQuoted = code === QUOTE && (beginsCell || closedAt === at - 1)
    beginsCell = code === parts || code === NEWLINE
    if (code === NEWLINE) columns = 1
    else if (code === parts && ++columns > MAX_COLUMNS) return line
  }
  return undefined
}

/** The first rows, by which columns are matched. */
const MATCHED = 60

interface Table {
  rows: Row[]
  columns: Columns
  headed: boolean
}

/** Reads rows; once it is known which columns count, of the others nothing is kept. */
function rowsOf(made: ReadingMaker, { name, text }: SourceFile, delimiter: string, given: Columns | undefined): Table {
  const rows: Row[] = []
  let table: Table | undefined
  const settle = (): Table => {
    const { columns, headed } = matchColumns(rows.map(({ cells }) => cells).slice(0, MATCHED))
    return { rows, columns: given ?? columns, headed }
  }
  const wide = wideLine(text, delimiter)
  if (wide !== undefined) {
    made.refuse(
      { file: name, line: wide, column: 1 },
      'columns',
      '',
      `Line ${wide} has more than ${MAX_COLUMNS.toLocaleString('en')} columns, so nothing of the file was read.`,
      'Export the columns that name the address and the destination only.',
    )
    return settle()
  }
  // A quote that is never closed swallows the rest; the line it stands in is found again by what was read.
  let line = 1
  Papa.parse<string[]>(text.replace(/^\ufeff/, ''), {
    delimiter,
    skipEmptyLines: false,
    step({ data, errors }, parser) {
      const began = line
      line += 1 + data.reduce((sum, cell) => sum + (cell.match(/\n/g)?.length ?? 0), 0)
      const place: Place = { file: name, line: began, column: 1 }
      if (data.length === 1 && data[0]!.trim() === '') {
        // Empty lines are no rows, but a file of nothing else must end too.
        if (line > MAX_LINES * 2) parser.abort()
        return
      }
      if (data.some((cell) => cell.length > MAX_LINE))
        made.refuse(
          place,
          'long-line',
          data[0]!,
          `A cell is longer than ${MAX_LINE.toLocaleString('en')} characters; a quote may not be closed.`,
          'Close the quote that begins it.',
        )
      else if (errors.some(({ type }) => type === 'Quotes'))
        made.refuse(
          place,
          'quotes',
          data.join(delimiter),
          'Its quotes are not closed, or stand within a cell.',
          'Double a quote that belongs to the text (RFC 4180).',
        )
      else {
        rows.push({ line: began, cells: table ? keptCells(data, table.columns) : data })
        if (rows.length === MATCHED) {
          table = settle()
          for (const row of rows) row.cells = keptCells(row.cells, table.columns)
        }
      }
      if (rows.length > MAX_LINES) {
        made.refuse(
          place,
          'too-many',
          '',
          `Only the first ${MAX_LINES.toLocaleString('en')} rows are read.`,
          'Bring the rest in as a second file.',
        )
        parser.abort()
      }
    },
  })
  return table ?? settle()
}

/** Of a wide row the columns that count, and a few to show it by; the others are empty. */
function keptCells(cells: string[], columns: Columns): string[] {
  if (cells.length <= SHOWN_CELLS) return cells
  const kept = new Set(Object.values(columns))
  const last = Math.max(SHOWN_CELLS, ...kept)
  return cells.slice(0, last + 1).map((cell, at) => (at < SHOWN_CELLS || kept.has(at) ? cell : ''))
}
const SHOWN_CELLS = 24

function readRow(made: ReadingMaker, file: string, { line, cells }: Row, columns: Columns): void {
  const cell = (field: ColumnField) => (columns[field] === undefined ? '' : (cells[columns[field]!] ?? '').trim())
  const place: Place = { file, line, column: 1 }
  const at = (field: ColumnField): Place => ({ ...place, column: (columns[field] ?? 0) + 1 })
  const source = cells.join(' · ')
  const typed = columns.address === undefined ? cell('slug') : cell('address')
  const where =
    typed === ''
      ? (columns.address ?? columns.slug) === undefined
        ? { host: null, slug: null }
        : { sentence: 'The address is missing.' }
      : readFileAddress(unguarded(typed))
  if ('sentence' in where)
    return made.refuse(at(columns.address === undefined ? 'slug' : 'address'), 'address', source, where.sentence)
  const status = cell('status')
  const told = status === '' ? undefined : readStatus(status)
  if (status !== '' && told === undefined)
    return made.refuse(
      at('status'),
      'status',
      source,
      `“${status}” is no status of a redirect.`,
      'Write 301, 302, 303, 307, 308 or 410, or leave it out.',
    )
  const destination = unguarded(cell('destination'))
  if (destination === '' && told !== 'gone')
    return made.refuse(at('destination'), 'no-destination', source, 'There is no destination.')
  const details = readDetails(cell)
  if ('sentence' in details) return made.refuse(at(details.field), 'value', source, details.sentence)
  const domain = cell('domain')
    .replace(/^https?:\/\//i, '')
    .replace(/\/.*$/, '')
    .toLowerCase()
  made.link({
    ...place,
    host: domain || where.host,
    slug: where.slug,
    destination: told === 'gone' ? null : destination,
    ...(typeof told === 'number' && { status: told }),
    ...details.details,
  })
}

function readDetails(
  cell: (field: ColumnField) => string,
): { details: LinkDetails } | { field: ColumnField; sentence: string } {
  const details: LinkDetails = {}
  for (const field of ['title', 'note', 'owner'] as const)
    if (cell(field) !== '') details[field] = unguarded(cell(field))
  if (cell('tags') !== '')
    details.tags = unguarded(cell('tags'))
      .split(/[,;|]/)
      .map((tag) => tag.trim())
      .filter(Boolean)
  for (const field of ['startsAt', 'endsAt'] as const) {
    const text = cell(field)
    if (text === '') continue
    const moment = readMoment(text)
    if (moment === undefined)
      return { field, sentence: `“${text}” is no date; write it as 2026-11-27 or 2026-11-27T18:00Z.` }
    details[field] = moment
  }
  const standing = cell('standing').toLowerCase()
  if (standing !== '') {
    const known = (['live', 'paused', 'ended', 'retired'] as const).find((one) => one === standing)
    if (known) details.standing = known
    else if (standing !== 'scheduled')
      return { field: 'standing', sentence: `“${standing}” is no standing; write live, paused, ended or retired.` }
  }
  return { details }
}

/** A date or moment of ISO 8601; one without a time is midnight, one without a zone UTC. */
function readMoment(text: string): string | undefined {
  if (!/^\d{4}-\d{2}-\d{2}(?:[T ]\d{2}:\d{2}(?::\d{2}(?:\.\d+)?)?(?:Z|[+-]\d{2}:?\d{2})?)?$/.test(text))
    return undefined
  const zoned = /Z|[+-]\d{2}:?\d{2}$/.test(text.slice(10))
    ? text
    : text.length === 10
      ? `${text}T00:00:00Z`
      : `${text}Z`
  const time = Date.parse(zoned.replace(' ', 'T'))
  return Number.isNaN(time) ? undefined : new Date(time).toISOString()
}

export const csv: Format = {
  id: 'csv',
  name: FORMAT_NAMES.csv,
  source: 'RFC 4180.',
  endings: ['csv', 'tsv', 'tab'],
  resembles({ name, text }) {
    if (/\.(?:csv|tsv|tab)$/i.test(name)) return 0.97
    const { data } = Papa.parse<string[]>(text.slice(0, 4000), { preview: 10, delimiter: delimiterOf(text) })
    const wide = data.filter((row) => row.length > 1 && row.some((cell) => /^[a-z]+:\/\//i.test(cell.trim())))
    return data.length === 0 ? 0 : (0.93 * wide.length) / data.filter((row) => row.join('').trim() !== '').length || 0
  },
  read,
}
