import { readHost } from '../../address'
import { quotedPath, wholeExpression } from '../regex/whole'
import { translateExpression } from '../regex/translate'
import { belowPrefix, inOrder, readLocation, type Location } from './locations'
import { MapUses } from './map-uses'
import { mapsOf } from './maps'
import type { Statement } from './parse'
import type { Where } from './redirects'

/** Servers with their locations, in the order in which nginx asks them. */
export class Servers extends MapUses {
  all(statements: readonly Statement[]): void {
    const flat = statements.flatMap((statement) =>
      statement.name === 'http' && statement.block ? statement.block : [statement],
    )
    this.maps = mapsOf(this.made, flat)
    const servers = flat.filter(({ name }) => name === 'server')
    const loose = flat.filter(({ name }) => !['server', 'map'].includes(name))
    for (const { block } of servers) if (block) this.server(block)
    if (servers.length === 0) this.server(loose)
    else for (const statement of loose) this.pass(statement)
  }

  private server(block: readonly Statement[]): void {
    const names = block.filter(({ name }) => name === 'server_name').flatMap((statement) => this.hostsOf(statement))
    const hosts = names.length > 0 ? names : [this.options.host]
    for (const host of hosts) this.serverFor(host, block, host === hosts[0])
  }

  /** What a server says of one of its hosts; what is not carried over is told once. */
  private serverFor(host: string, block: readonly Statement[], tell: boolean): void {
    const before = this.made.reading.refusals.length
    const remarks = this.made.reading.remarks.length
    const at = { host, pattern: '/(.*)', groups: new Set<string>(), fold: false }
    // What stands in the server itself comes before any location.
    let ends = false
    for (const statement of block) {
      if (statement.name === 'location' || statement.name === 'server_name') continue
      if (ends)
        this.made.refuse(statement, 'not-reached', statement.source, 'What stands before it answers every address.')
      else ends = this.statement(statement, at)
    }
    const locations: Location[] = []
    for (const statement of block)
      if (statement.name === 'location') {
        const location = readLocation(statement)
        if (ends)
          this.made.refuse(statement, 'not-reached', statement.source, 'The server answers every address before it.')
        else if (location) locations.push(location)
      }
    const { ordered, tangled } = inOrder(locations)
    for (const { statement } of tangled)
      this.made.refuse(
        statement,
        'tangled',
        statement.source,
        'A longer location stands within it, and expressions are asked for the one and not for the other.',
        'Make rules of it by hand.',
      )
    for (const location of ordered) this.location(host, location)
    if (!tell) {
      this.made.reading.refusals.length = before
      this.made.reading.remarks.length = remarks
    }
  }

  private hostsOf(statement: Statement): string[] {
    return statement.args.flatMap((name) => {
      if (name === '_' || name === '') return []
      const reading = name.startsWith('~') || name.includes('*') ? undefined : readHost(name)
      if (reading?.ok) return [reading.host]
      this.made.refuse(
        statement,
        'host',
        statement.source,
        `“${name}” is not one host.`,
        'Name the host, and bring the file in for each.',
      )
      return []
    })
  }

  private location(host: string, { kind, text, fold, statement }: Location): void {
    const { made } = this
    if (kind === 'expression') {
      const translated = translateExpression(text)
      const whole = translated.ok ? wholeExpression(translated.source) : undefined
      if (!translated.ok || whole === undefined)
        return made.refuse(
          {
            ...statement,
            column:
              statement.column +
              Math.max(0, statement.source.indexOf(text)) +
              (translated.ok ? 0 : translated.column - 1),
          },
          'expression',
          statement.source,
          translated.ok ? 'Its parts begin at different places.' : translated.sentence,
          'Write a rule that says the same without it.',
        )
      const groups = new Set([
        ...Array.from({ length: translated.groups }, (_, at) => String(at + 1)),
        ...[...translated.source.matchAll(/\(\?P<(\w+)>/g)].map((match) => match[1]!),
      ])
      return this.inLocation(statement, { host, pattern: whole, groups, fold })
    }
    const pattern = kind === 'exact' ? quotedPath(text) : belowPrefix(text)
    this.inLocation(statement, { host, pattern, groups: new Set(), fold: false })
  }

  private inLocation(statement: Statement, at: Where): void {
    let ends = false
    for (const inner of statement.block ?? []) {
      if (ends)
        this.made.refuse(inner, 'not-reached', inner.source, 'What stands before it in the location answers already.')
      else if (inner.name === 'location')
        this.made.refuse(
          inner,
          'nested',
          inner.source,
          'A location within a location is not carried over.',
          'Write it beside the outer one.',
        )
      else ends = this.statement(inner, at)
    }
    if (!ends && !(statement.block ?? []).some(({ name }) => name === 'rewrite' || name === 'if'))
      this.made.refuse(
        statement,
        'serves',
        statement.source,
        'It serves something and redirects nobody; here a rule takes its addresses, or they are not found.',
      )
  }
}
