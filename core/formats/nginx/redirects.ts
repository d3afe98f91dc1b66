import type { FileRedirect, ReadOptions } from '../format'
import type { ReadingMaker } from '../reading'
import { literalOf, wholeExpression } from '../regex/whole'
import { translateExpression } from '../regex/translate'
import { readStatus } from '../status'
import { belowPrefix } from './locations'
import type { Statement } from './parse'
import { readValue } from './values'

/** Where statements stand: of which host, and for which addresses. */
export interface Where {
  host: string
  /** Over the whole path. */
  pattern: string
  groups: ReadonlySet<string>
  fold: boolean
}

/** The same address over TLS. */
const TO_HTTPS = /^(?:https:\/\/|\$scheme:\/\/)\$(?:host|server_name|http_host)\$request_uri$/

/** Expressions that take every path. */
const TAKES_ALL = /^\^?(?:\/?\(?\.\*\)?\$?)?$/

/** Statements that redirect: `return` and `rewrite` (nginx documentation, ngx_http_rewrite_module). */
export class Redirects {
  constructor(
    protected readonly made: ReadingMaker,
    protected readonly options: ReadOptions,
  ) {}

  protected pass(statement: Statement): void {
    if (!SILENT.has(statement.name))
      this.made.refuse(
        statement,
        'directive',
        statement.source,
        `“${statement.name}” is not part of a redirect and was not imported.`,
      )
  }

  protected returns(statement: Statement, at: Where): boolean {
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
    if (TO_HTTPS.test(to!)) {
      this.made.refuse(
        statement,
        'https',
        statement.source,
        'It sends everyone to HTTPS, which is the domain’s to decide here.',
        'Switch on “only over HTTPS” for the domain.',
      )
      return true
    }
    if ([...to!.matchAll(/\$\{?(\w+)/g)].some(([, name]) => at.groups.has(name!)))
      this.made.remark(
        statement,
        'The server puts in what it captured decoded, so that “%20” becomes a blank; here escapes stay escapes.',
      )
    this.redirect(statement, at, at.pattern, at.groups, at.fold, to!, {
      status,
      query: 'discard',
      queryConflict: 'both',
    })
    return true
  }

  protected rewrites(statement: Statement, at: Where): boolean {
    const [expression = '', to = '', flag = ''] = statement.args
    const status =
      flag === 'permanent' ? 301 : flag === 'redirect' || /^(?:https?:\/\/|\$scheme)/.test(to) ? 302 : undefined
    const refuse = (code: string, sentence: string, would = '') =>
      this.made.refuse(statement, code, statement.source, sentence, would)
    if (status === undefined) refuse('internal', 'Not a redirect: the server continues with another internal path.')
    else {
      const translated = translateExpression(expression)
      const whole = translated.ok ? wholeExpression(translated.source) : undefined
      if (!translated.ok) refuse('expression', translated.sentence, 'Write a rule that says the same without it.')
      else if (whole === undefined) refuse('anchors', 'Its parts begin at different places.', 'Write it as two.')
      else if (TAKES_ALL.test(expression) && !/\$\d/.test(to)) {
        // Whatever its location takes.
        this.redirect(statement, at, at.pattern, new Set(), at.fold, to.endsWith('?') ? to.slice(0, -1) : to, {
          status,
          query: to.endsWith('?') ? 'discard' : 'carry',
          queryConflict: 'both',
        })
        return true
      } else if (at.pattern !== '/(.*)' && at.pattern !== belowPrefix('/') && !within(whole, at.pattern))
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

  protected redirect(
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
    if (/\$scheme|^\//.test(to))
      this.made.remark(statement, 'The server keeps the scheme and port it was asked by; here it is HTTPS.')
    if (/[?&]\$\{?(?:args|query_string)/.test(to))
      this.made.remark(statement, 'Without a query the server ends the address in “?” or “&”; here it does not.')
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
        this.made.link({ ...place, host, slug: slug.slice(1), destination: asTyped(template, to), ...told })
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

/** Whether an expression takes addresses below a location’s prefix only, as both are written. */
const within = (whole: string, pattern: string) => {
  const prefix = /^\/\((.*)\.\*\)$/.exec(pattern)?.[1]
  return prefix !== undefined && whole.startsWith('/' + prefix)
}

/** A link’s destination has its braces as they were written: there they are no captures. */
const asTyped = (template: string, to: string) =>
  /[{}]/.test(to) ? template.replaceAll('%7B', '{').replaceAll('%7D', '}') : template

/** A destination as a whole address; one that begins with a slash is of the same host. */
export const wholeAddress = (template: string, host: string): string | undefined =>
  /^[a-z][a-z0-9+.-]*:/i.test(template)
    ? template
    : template.startsWith('/') && !template.startsWith('//')
      ? `https://${host}${template}`
      : undefined

/** Directives that have nothing to do with where an address leads. */
const SILENT = new Set(
  (
    'listen server_name root index access_log error_log ssl_certificate ssl_certificate_key ssl_protocols ' +
    'ssl_ciphers charset default_type types events worker_processes user pid merge_slashes gzip sendfile ' +
    'keepalive_timeout ' +
    'server_tokens add_header http2 map_hash_bucket_size map_hash_max_size server_names_hash_bucket_size'
  ).split(' '),
)
