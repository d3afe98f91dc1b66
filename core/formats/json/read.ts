import { parseTree, type ParseError } from 'jsonc-parser'
import type { z } from 'zod'
import type { Format, Place, ReadOptions, Reading, SourceFile } from '../format'
import { FORMAT_NAMES } from '../kinds'
import { linesOf, MAX_LINE, ReadingMaker } from '../reading'
import { jsonLink, jsonRule } from './schema'

/** Values nested deeper than this are none of ours. */
const MAX_DEPTH = 12

/** How deep brackets stand in each other in a JSON text, outside of strings. */
export function depthOf(text: string): number {
  let depth = 0
  let most = 0
  for (let at = 0; at < text.length; at++) {
    const code = text.charCodeAt(at)
    if (code === 0x22) {
      for (at++; at < text.length && text.charCodeAt(at) !== 0x22; at++) if (text.charCodeAt(at) === 0x5c) at++
    } else if (code === 0x5b || code === 0x7b) most = Math.max(most, ++depth)
    else if (code === 0x5d || code === 0x7d) depth--
  }
  return most
}

/** Where an offset of a text stands. */
function placeAt(file: string, text: string, offset: number): Place {
  const before = text.slice(0, offset)
  const line = before.split('\n').length
  return { file, line, column: offset - before.lastIndexOf('\n') }
}

/** Parses one text; a sentence and place where it is none. */
function parse(
  file: string,
  text: string,
): { ok: true; value: unknown } | { ok: false; place: Place; sentence: string } {
  if (depthOf(text) > MAX_DEPTH)
    return {
      ok: false,
      place: { file, line: 1, column: 1 },
      sentence: `It is nested deeper than ${MAX_DEPTH} brackets, the maximum of this format.`,
    }
  try {
    return { ok: true, value: JSON.parse(text) }
  } catch {
    const errors: ParseError[] = []
    parseTree(text, errors, { disallowComments: true })
    const offset = errors[0]?.offset ?? 0
    return { ok: false, place: placeAt(file, text, offset), sentence: 'It is no JSON from here on.' }
  }
}

/** Our own JSON, and JSON Lines: a link or a rule a line. */
function read(files: readonly SourceFile[], _options: ReadOptions): Reading {
  const lined = files.some(({ name, text }) => isLined(name, text))
  const made = new ReadingMaker(lined ? 'JSON Lines' : 'our own JSON')
  for (const { name, text: given } of files) {
    const text = given.replace(/^\ufeff/, '')
    if (isLined(name, text)) readLines(made, name, text)
    else readWhole(made, name, text)
  }
  return made.reading
}

function readLines(made: ReadingMaker, file: string, text: string): void {
  for (const { number, text: line } of linesOf(text)) {
    made.reading.lines++
    if (line.trim() === '') continue
    const place: Place = { file, line: number, column: 1 }
    if (line.length > MAX_LINE) {
      made.refuse(place, 'long-line', line, `The line is longer than ${MAX_LINE.toLocaleString('en')} characters.`)
      continue
    }
    const parsed = parse(file, line)
    if (parsed.ok) readThing(made, place, parsed.value, line)
    else made.refuse({ ...parsed.place, line: number }, 'json', line, parsed.sentence)
  }
}

function readWhole(made: ReadingMaker, file: string, text: string): void {
  const parsed = parse(file, text)
  if (!parsed.ok) return made.refuse(parsed.place, 'json', text, parsed.sentence)
  const { value } = parsed
  const whole = value as { format?: unknown; links?: unknown; rules?: unknown } | null
  const things = Array.isArray(value)
    ? value
    : typeof whole === 'object' && whole !== null && (whole.links !== undefined || whole.rules !== undefined)
      ? [...listOf(whole.links), ...listOf(whole.rules)]
      : [value]
  // Lines are found again by looking for each thing’s destination, in order.
  let from = 0
  let line = 1
  for (const thing of things) {
    const destination = (thing as { destination?: unknown } | null)?.destination
    const at = typeof destination === 'string' ? text.indexOf(JSON.stringify(destination), from) : -1
    if (at !== -1) {
      for (let scan = text.indexOf('\n', from); scan !== -1 && scan < at; scan = text.indexOf('\n', scan + 1)) line++
      from = at
    }
    made.reading.lines++
    readThing(made, { file, line, column: 1 }, thing, JSON.stringify(thing) ?? '')
  }
}

const listOf = (value: unknown): unknown[] => (Array.isArray(value) ? value : [])

function readThing(made: ReadingMaker, place: Place, value: unknown, source: string): void {
  const isRule = typeof value === 'object' && value !== null && 'pattern' in value
  const reading = (isRule ? jsonRule : jsonLink).safeParse(value)
  if (!reading.success) {
    const [issue] = reading.error.issues
    const path = issue!.path.join('.')
    return made.refuse(place, 'value', source, `${path ? `${path}: ` : ''}${sentenceOf(issue!)}`)
  }
  if (isRule) {
    const { domain = null, syntax = 'path', condition = [], ...rule } = reading.data as z.output<typeof jsonRule>
    made.rule({ ...place, ...rule, host: domain, syntax, condition })
  } else {
    const { domain = null, slug = null, ...link } = reading.data as z.output<typeof jsonLink>
    made.link({ ...place, ...link, host: domain, slug: slug === null ? null : slug.replace(/^\//, '') })
  }
}

const sentenceOf = (issue: z.core.$ZodIssue) =>
  issue.code === 'unrecognized_keys' ? `Nothing here is called “${issue.keys[0]}”.` : issue.message

const isLined = (name: string, text: string) =>
  /\.(?:jsonl|ndjson)$/i.test(name) || /^\s*\{[^\n]*\}\s*\n\s*\{/.test(text.slice(0, 50_000))

export const json: Format = {
  id: 'json',
  name: FORMAT_NAMES.json,
  source: 'RFC 8259; our own schema.',
  endings: ['json', 'jsonl', 'ndjson'],
  resembles: ({ name, text }) => (/\.(?:jsonl?|ndjson)$/i.test(name) ? 0.98 : /^\s*[[{]\s*["{[]/.test(text) ? 0.9 : 0),
  read,
}
