import type { Condition } from '../../conditions'
import type { FileRedirect } from '../format'
import { quotedPath } from '../regex/whole'
import { readStatus } from '../status'
import { belowPrefix } from './locations'
import type { NginxMap } from './maps'
import type { Statement } from './parse'
import { Redirects, wholeAddress, type Where } from './redirects'
import { readValue } from './values'

/** Statements that ask a map, beside those that redirect by themselves. */
export class MapUses extends Redirects {
  protected maps: ReadonlyMap<string, NginxMap> = new Map()

  /** Takes one statement; true where it answers whatever comes. */
  protected statement(statement: Statement, at: Where): boolean {
    switch (statement.name) {
      case 'return':
        return this.returnsMap(statement, at) || this.returns(statement, at)
      case 'rewrite':
        return this.rewrites(statement, at)
      case 'if':
        this.condition(statement, at)
        return false
      default:
        this.pass(statement)
        return false
    }
  }

  /** `return 301 $map;` without asking first whether the map has an answer. */
  private returnsMap(statement: Statement, at: Where): boolean {
    const variable = statement.args.at(-1) ?? ''
    const map = /^\$\{?\w+\}?$/.test(variable) ? this.maps.get(variable.replace(/[${}]/g, '')) : undefined
    if (!map) return false
    if (!map.rows.some(({ pattern, value }) => pattern === '.*' && value !== ''))
      this.made.remark(
        statement,
        'Where the map has nothing the server sends people nowhere, with an empty address; here that is not found.',
      )
    this.useMap(statement, map, variable, at)
    return true
  }

  /** `if ($map) { return 301 $map; }` is how maps are used; no other condition is carried over. */
  protected condition(statement: Statement, at: Where): void {
    const [variable = ''] = statement.args
      .join(' ')
      .replace(/^\(|\)$/g, '')
      .trim()
      .split(/\s+/)
    const map = this.maps.get(variable.replace(/[${}]/g, ''))
    const [inner, ...more] = statement.block ?? []
    const uses =
      inner &&
      more.length === 0 &&
      (inner.name === 'return' || inner.name === 'rewrite') &&
      inner.args.some((word) => word.includes(variable))
    if (map && uses && statement.args.join(' ').replace(/[() ]/g, '') === variable.replace(/[() ]/g, ''))
      this.useMap(inner, map, variable, at)
    else if (/\$(?:scheme|https|server_port)/.test(variable))
      this.made.refuse(
        statement,
        'https',
        statement.source,
        'Whether a request came over TLS is the domain’s to decide here.',
        'Switch on “only over HTTPS” for the domain.',
      )
    else
      this.made.refuse(
        statement,
        'condition',
        statement.source,
        'Only a map’s answer is carried over as a condition.',
        'Make a rule of it by hand.',
      )
  }

  protected useMap(statement: Statement, map: NginxMap, variable: string, { host, pattern }: Where): void {
    if (pattern !== '/(.*)' && pattern !== '/(.*.*)' && pattern !== belowPrefix('/'))
      return this.made.refuse(
        statement,
        'map-use',
        statement.source,
        'The map is asked within a separate location.',
        'Ask it in the server itself.',
      )
    const rewrite = statement.name === 'rewrite'
    const status = rewrite
      ? statement.args[2] === 'permanent'
        ? 301
        : 302
      : readStatus(statement.args.length === 1 ? '302' : statement.args[0]!)
    const form = rewrite ? statement.args[1]! : statement.args.at(-1)!
    if (status === undefined || status === 'gone')
      return this.made.refuse(statement, 'status', statement.source, 'It is no redirect.')
    const query: FileRedirect = { status, query: rewrite ? 'carry' : 'discard', queryConflict: 'both' }
    // What asks for a query stands before what takes any.
    const asking = map.rows.filter((row) => row.query !== undefined)
    for (const row of [...asking, ...map.rows.filter((row) => row.query === undefined)]) {
      if (row.value === '') continue
      const to = form.replace(variable, row.value).replace(`\${${variable.slice(1)}}`, row.value)
      const value = readValue(to, { host, captures: row.groups })
      const destination = value.ok ? wholeAddress(value.template, host) : undefined
      const place = { file: row.file, line: row.line, column: row.column }
      if (!value.ok || destination === undefined || value.path) {
        this.made.refuse(
          row,
          'destination',
          row.source,
          value.ok ? `“${to}” is no whole address.` : value.sentence,
          'Write it with https:// and its host.',
        )
        continue
      }
      const condition: Condition = row.query === undefined ? [] : [{ kind: 'query', mode: 'exactly', text: row.query }]
      if (row.query === undefined && row.text !== undefined && (row.exact || !this.options.sameness.capitalsMatter))
        this.made.link({
          ...place,
          host,
          slug: row.text.replace(/^\//, ''),
          destination: destination,
          ...query,
        })
      else if (row.text !== undefined)
        this.made.rule({
          ...place,
          host,
          syntax: 'expression',
          pattern: row.query === undefined ? `(?i:${quotedPath(row.text)})` : quotedPath(row.text),
          destination,
          condition,
          ...query,
        })
      else
        this.made.rule({
          ...place,
          host,
          syntax: 'expression',
          pattern: row.pattern!,
          destination,
          condition,
          ...query,
        })
    }
  }
}
