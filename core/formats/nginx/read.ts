import { readHost } from '../../address'
import type { FileRedirect, Format, ReadOptions, Reading, SourceFile } from '../format'
import { countLines, ReadingMaker } from '../reading'
import { literalOf, quoted, quotedPath, wholeExpression } from '../regex/whole'
import { translateExpression } from '../regex/translate'
import { readStatus } from '../status'
import { belowPrefix, inOrder, readLocation, type Location } from './locations'
import { mapsOf, type NginxMap } from './maps'
import { parseNginx, type Statement } from './parse'
import { readValue } from './values'

/** Files of nginx: `return`, `rewrite`, `map` and `location` (nginx documentation, ngx_http_rewrite_module and others). */
function read(files: readonly SourceFile[], options: ReadOptions): Reading {
  const made = new ReadingMaker('nginx configuration')
  const byName = new Map(files.map((file) => [fileName(file.name), file]))
  const included = new Set<string>()
  const parse = (file: SourceFile, depth: number): Statement[] => {
    const { statements, faults } = parseNginx(file)
    for (const fault of faults) made.refuse(fault, 'syntax', '', fault.sentence)
    return withIncludes(statements, depth)
  }
  const withIncludes = (statements: readonly Statement[], depth: number): Statement[] =>
    statements.flatMap((statement) => {
      if (statement.block) return [{ ...statement, block: withIncludes(statement.block, depth) }]
      if (statement.name !== 'include') return [statement]
      const wanted = fileName(statement.args[0] ?? '')
      const found = wanted.includes('*')
        ? [...byName.values()].filter(({ name }) =>
            new RegExp(`^${quoted(wanted).replaceAll('\\*', '.*')}$`).test(fileName(name)),
          )
        : byName.has(wanted)
          ? [byName.get(wanted)!]
          : []
      if (found.length === 0 || depth >= 5) {
        if (!/mime\.types|fastcgi|proxy_params|ssl/.test(wanted))
          made.refuse(
            statement,
            'include',
            statement.source,
            `“${wanted}” is not among the files.`,
            'Drop it together with this one.',
          )
        return []
      }
      return found.flatMap((file) => {
        included.add(file.name)
        return parse(file, depth + 1)
      })
    })
  const read = files.map((file) => ({ file, statements: parse(file, 0) }))
  for (const { file } of read) made.reading.lines += countLines(file.text)
  const statements = read.filter(({ file }) => !included.has(file.name)).flatMap((one) => one.statements)
  new NginxReader(made, options).all(statements)
  return made.reading
}

class NginxReader {
  private maps: ReadonlyMap<string, NginxMap> = new Map()

  constructor(
    private readonly made: ReadingMaker,
    private readonly options: ReadOptions,
  ) {}

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
        'It serves something and redirects nobody; here its addresses go to whatever rule takes them, or are not found.',
      )
  }

  /** Takes one statement; true where it answers whatever comes. */
  private statement(statement: Statement, at: Where): boolean {
    switch (statement.name) {
      case 'return':
        return this.returns(statement, at)
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

  private pass(statement: Statement): void {
    if (!SILENT.has(statement.name))
      this.made.refuse(
        statement,
        'directive',
        statement.source,
        `“${statement.name}” is nothing a redirect needs; it is not carried over.`,
      )
  }

  /** `if ($map) { return 301 $map; }` is how maps are used; no other condition is carried over. */
  private condition(statement: Statement, at: Where): void {
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

  private useMap(statement: Statement, map: NginxMap, variable: string, { host, pattern }: Where): void {
    if (pattern !== '/(.*)' && pattern !== '/(.*.*)' && pattern !== belowPrefix('/'))
      return this.made.refuse(
        statement,
        'map-use',
        statement.source,
        'The map is asked within a location of its own.',
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
    for (const row of map.rows) {
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
      if (row.text !== undefined && (row.exact || !this.options.sameness.capitalsMatter))
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
          pattern: `(?i:${quotedPath(row.text)})`,
          destination,
          condition: [],
          ...query,
        })
      else
        this.made.rule({
          ...place,
          host,
          syntax: 'expression',
          pattern: row.pattern!,
          destination,
          condition: [],
          ...query,
        })
    }
  }

  private returns(statement: Statement, at: Where): boolean {
    const [first = '', second] = statement.args
    const status = second === undefined && /^(?:https?:|\$scheme)/.test(first) ? 302 : readStatus(first)
    const to = second ?? (status === 302 ? first : undefined)
    if (status === undefined || (status !== 'gone' && to === undefined)) {
      this.made.refuse(statement, 'status', statement.source, `It answers ${first}, and leads nowhere.`)
      return true
    }
    if (status === 'gone') {
      const literal = literalOf(at.pattern)
      if (literal)
        this.made.link({
          file: statement.file,
          line: statement.line,
          column: statement.column,
          host: at.host,
          slug: literal.text.slice(1),
          destination: null,
        })
      else
        this.made.refuse(
          statement,
          'gone-pattern',
          statement.source,
          'A pattern that is gone has no place in the rules, which lead somewhere.',
          'Not found answers it as 404.',
        )
      return true
    }
    if (
      /^\$(?:scheme|https?)?:?\/?\/?\$(?:host|server_name|http_host)\$request_uri$|^https:\/\/\$(?:host|server_name|http_host)\$request_uri$/.test(
        to!,
      )
    ) {
      this.made.refuse(
        statement,
        'https',
        statement.source,
        'It sends everyone to HTTPS, which is the domain’s to decide here.',
        'Switch on “only over HTTPS” for the domain.',
      )
      return true
    }
    this.redirect(statement, at, at.pattern, at.groups, at.fold, to!, {
      status,
      query: 'discard',
      queryConflict: 'both',
    })
    return true
  }

  private rewrites(statement: Statement, at: Where): boolean {
    const [expression = '', to = '', flag = ''] = statement.args
    const status =
      flag === 'permanent' ? 301 : flag === 'redirect' || /^(?:https?:\/\/|\$scheme)/.test(to) ? 302 : undefined
    const refuse = (code: string, sentence: string, would = '') =>
      this.made.refuse(statement, code, statement.source, sentence, would)
    if (status === undefined) refuse('internal', 'It is no redirect: the server goes on with another path of its own.')
    else {
      const translated = translateExpression(expression)
      const whole = translated.ok ? wholeExpression(translated.source) : undefined
      if (!translated.ok) refuse('expression', translated.sentence, 'Write a rule that says the same without it.')
      else if (whole === undefined) refuse('anchors', 'Its parts begin at different places.', 'Write it as two.')
      else if (at.pattern !== '/(.*)' && at.pattern !== belowPrefix('/') && !within(whole, at.pattern))
        refuse(
          'two-patterns',
          'Its location and its expression both ask for a path; one rule has one pattern.',
          'Write it into the server itself.',
        )
      else {
        const groups = new Set([
          ...Array.from({ length: translated.groups }, (_, one) => String(one + 1)),
          ...[...translated.source.matchAll(/\(\?P<(\w+)>/g)].map((match) => match[1]!),
        ])
        const clean = to.endsWith('?') ? to.slice(0, -1) : to
        this.redirect(statement, at, whole, groups, false, clean, {
          status,
          query: to.endsWith('?') ? 'discard' : 'carry',
          queryConflict: 'both',
        })
        return /^\/?(?:\.\*\??)+$|^\/?\(\.\*\)$|^\.\*\?(?:\.\*)?$/.test(whole)
      }
    }
    return false
  }

  private redirect(
    statement: Statement,
    { host }: Where,
    pattern: string,
    groups: ReadonlySet<string>,
    fold: boolean,
    to: string,
    redirect: FileRedirect,
  ): void {
    const value = readValue(to, { host, captures: groups })
    if (!value.ok) return this.made.refuse(statement, 'value', statement.source, value.sentence, value.would)
    const place = { file: statement.file, line: statement.line, column: statement.column }
    const told: FileRedirect = value.carriesQuery ? { ...redirect, query: 'carry' } : redirect
    if (value.path && to.includes('request_uri'))
      this.made.remark(
        statement,
        'The server hands the address on as it was asked; here escapes of letters and digits are put right first.',
      )
    const literal = literalOf(pattern)
    const template = wholeAddress(value.template, host)
    if (template === undefined)
      return this.made.refuse(
        statement,
        'destination',
        statement.source,
        `“${to}” is no whole address.`,
        'Write it with https:// and its host.',
      )
    if (literal && !template.includes('{+') && (!fold || !this.options.sameness.capitalsMatter)) {
      for (const slug of [literal.text, ...(literal.slash ? [literal.text + '/'] : [])])
        this.made.link({ ...place, host, slug: slug.slice(1), destination: template, ...told })
      if (literal.dots)
        this.made.remark(statement, 'A “.” there takes any character; only the dot itself is carried over.')
      return
    }
    if (literal && value.path && groups.size === 0) {
      this.made.link({
        ...place,
        host,
        slug: literal.text.slice(1),
        destination: template.replace('{+path}', literal.text.slice(1)),
        ...told,
      })
      return
    }
    let whole = pattern
    if (value.path) {
      if (!pattern.startsWith('/'))
        return this.made.refuse(
          statement,
          'value',
          statement.source,
          'It puts the whole path in, and its pattern does not begin with a slash.',
        )
      whole =
        pattern === '/(.*)' || (pattern.startsWith('/(') && groups.size === 0 && pattern.endsWith('.*)'))
          ? pattern
          : `/(?P<path>${pattern.slice(1)})`
    }
    const destination = whole === pattern ? template.replace('{+path}', '{+1}') : template
    if (destination.includes('{+') && !/^[a-z][a-z0-9+.-]*:\/\/[^/?#{]+[/?#]/i.test(destination))
      return this.made.refuse(
        statement,
        'value',
        statement.source,
        'What was captured would choose the host; a rule’s destination has its host written out.',
      )
    this.made.rule({
      ...place,
      host,
      syntax: 'expression',
      pattern: fold ? `(?i:${whole})` : whole,
      destination,
      condition: [],
      ...told,
    })
  }
}

interface Where {
  host: string
  /** Over the whole path. */
  pattern: string
  groups: ReadonlySet<string>
  fold: boolean
}

/** Whether an expression takes addresses below a location’s prefix only, as both are written. */
const within = (whole: string, pattern: string) => {
  const prefix = /^\/\((.*)\.\*\)$/.exec(pattern)?.[1]
  return prefix !== undefined && whole.startsWith('/' + prefix)
}

const wholeAddress = (template: string, host: string): string | undefined =>
  /^[a-z][a-z0-9+.-]*:/i.test(template)
    ? template
    : template.startsWith('/') && !template.startsWith('//')
      ? `https://${host}${template}`
      : undefined

const fileName = (path: string) => path.split('/').at(-1)!

const SILENT = new Set(
  (
    'listen server_name root index access_log error_log ssl_certificate ssl_certificate_key ssl_protocols ssl_ciphers ' +
    'charset default_type types events worker_processes user pid merge_slashes gzip sendfile keepalive_timeout ' +
    'server_tokens add_header http2 map_hash_bucket_size map_hash_max_size server_names_hash_bucket_size'
  ).split(' '),
)

export const nginx: Format = {
  id: 'nginx',
  name: 'nginx configuration',
  source: 'nginx documentation: ngx_http_core_module, ngx_http_rewrite_module, ngx_http_map_module.',
  endings: ['conf', 'nginx'],
  resembles: ({ text }) =>
    /^\s*(?:location\s[^{]*\{|server\s*\{|map\s+\S+\s+\$\w+\s*\{|rewrite\s+\S+\s+\S+[^;\n]*;|return\s+\d{3}[^;\n]*;)/m.test(
      text,
    )
      ? 0.95
      : 0,
  read,
}
