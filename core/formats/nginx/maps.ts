import type { Place } from '../format'
import type { ReadingMaker } from '../reading'
import { wholeExpression } from '../regex/whole'
import { translateExpression } from '../regex/translate'
import type { Statement } from './parse'

/** A row of a map: a text, or a pattern over the whole path. */
export interface MapRow extends Place {
  text: string | undefined
  /** Whether the text is compared with regard to capitals. */
  exact: boolean
  pattern: string | undefined
  groups: ReadonlySet<string>
  /** The query it is compared with as well, in a map of the whole request; undefined where any fits. */
  query?: string
  value: string
  source: string
}

export interface NginxMap {
  rows: MapRow[]
}

const PATHS = new Set(['$uri', '$request_uri', '$document_uri', '${uri}', '${request_uri}'])

/**
 * The maps of a configuration by the variable they fill (nginx documentation, ngx_http_map_module): texts first,
 * without regard to capitals, then expressions in their order; `default` where nothing fits. Maps of anything but the
 * path are not carried over.
 */
export function mapsOf(made: ReadingMaker, statements: readonly Statement[]): Map<string, NginxMap> {
  const maps = new Map<string, NginxMap>()
  for (const statement of statements) {
    if (statement.name !== 'map' || !statement.block) continue
    const [source = '', target = ''] = statement.args
    if (!PATHS.has(source)) {
      made.refuse(
        statement,
        'map',
        statement.source,
        `It maps “${source}”, which is not the path.`,
        'Only maps of $uri are carried over.',
      )
      continue
    }
    const whole = source.includes('request_uri')
    const rows = statement.block
      .flatMap((row) => readRow(made, row, whole))
      .map((row) => (whole ? withQuery(row) : row))
    const order = (row: MapRow) => (row.text !== undefined ? 0 : row.pattern === '.*' ? 2 : 1)
    rows.sort((a, b) => order(a) - order(b))
    if (whole)
      made.remark(
        statement,
        'It maps the request as it was sent, escapes and query included; here escapes of letters and digits are put ' +
          'right first, a query that a text names may have its parameters in any order, and a text without one ' +
          'answers whatever query comes.',
      )
    maps.set(target.replace(/[${}]/g, ''), { rows })
  }
  return maps
}

/** The query of a text over the whole request, apart from its path. */
function withQuery(row: MapRow): MapRow {
  const question = row.text?.indexOf('?') ?? -1
  return question === -1 ? row : { ...row, text: row.text!.slice(0, question), query: row.text!.slice(question + 1) }
}

/** Atoms that take no question mark, at the end of an expression: its “$” stands right behind the path. */
const ENDS_IN_PATH = /(?:[\w/.~-]|\\[dw.-]|\[[\w\\.-]+\])[+*?]?\)?$/

/**
 * An expression over the whole request as one over the path: where it ends within the path, no query may follow; where
 * it is open at its end, any may. Others that a query could be part of are no pattern of ours.
 */
function overRequest(expression: string): { path: string; query?: string } | undefined {
  const named = /^(.*?)\\\?((?:[\w=&.~-]|%[0-9A-Fa-f]{2})*)\$$/.exec(expression)
  if (named) return /[?[]/.test(named[1]!.replace(/\(\?/g, '(')) ? undefined : { path: `${named[1]}$`, query: named[2] }
  if (/\\\?|\[[^\]]*\?/.test(expression)) return undefined
  if (!expression.endsWith('$')) return { path: expression }
  const body = expression.slice(0, -1)
  if (/\.\*\)?$/.test(body)) return /\)$/.test(body) ? undefined : { path: expression }
  return ENDS_IN_PATH.test(body) ? { path: expression, query: '' } : undefined
}

function readRow(made: ReadingMaker, row: Statement, overWhole: boolean): MapRow[] {
  const key = keyOf(row)
  const base = { file: row.file, line: row.line, column: row.column, source: row.source, value: row.args[0] ?? '' }
  if (['hostnames', 'volatile'].includes(row.name) && row.args.length === 0) return []
  if (row.name === 'include') return []
  if (row.name === 'default' && row.args.length === 1)
    return base.value === '' ? [] : [{ ...base, text: undefined, exact: false, pattern: '.*', groups: new Set() }]
  if (row.args.length !== 1) {
    made.refuse(row, 'map-row', row.source, 'A row of a map has a text and what it becomes.')
    return []
  }
  if (!key.startsWith('~'))
    return [{ ...base, text: key.replace(/^\\/, ''), exact: false, pattern: undefined, groups: new Set() }]
  const fold = key.startsWith('~*')
  const expression = key.slice(fold ? 2 : 1)
  const over = overWhole ? overRequest(expression) : { path: expression }
  if (!over) {
    made.refuse(
      row,
      'request',
      row.source,
      'It is put to the path and the query as one text, and a rule asks for them apart.',
      'Write a rule whose pattern takes the path and whose condition names the parameters.',
    )
    return []
  }
  const translated = translateExpression(over.path, { raw: overWhole })
  const whole = translated.ok ? wholeExpression(translated.source) : undefined
  if (!translated.ok || whole === undefined) {
    made.refuse(
      { ...row, column: row.column + (translated.ok ? 0 : translated.column) },
      'expression',
      row.source,
      translated.ok ? 'Its parts begin at different places.' : translated.sentence,
      'Write a rule that says the same without it.',
    )
    return []
  }
  const names = [...translated.source.matchAll(/\(\?P<(\w+)>/g)].map((match) => match[1]!)
  const groups = new Set([...Array.from({ length: translated.groups }, (_, at) => String(at + 1)), ...names])
  return [{ ...base, text: undefined, exact: true, pattern: fold ? `(?i:${whole})` : whole, groups, query: over.query }]
}

/** The key as it was written: directives’ names are kept in small letters, keys are not. */
function keyOf(row: Statement): string {
  const source = row.source
  const quote = source[0]
  if (quote === '"' || quote === "'") return source.slice(1, source.indexOf(quote, 1))
  return source.split(/\s/)[0]!
}
