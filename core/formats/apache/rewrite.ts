import type { Condition } from '../../conditions'
import type { QueryPart } from '../../conditions'
import type { FileRedirect } from '../format'
import type { ReadingMaker } from '../reading'
import { literalOf, quoted, wholeExpression } from '../regex/whole'
import { translateExpression } from '../regex/translate'
import { readStatus } from '../status'
import { absolute, toTemplate, type Surroundings } from './alias'
import { placeOf, type Directive } from './directives'

/** What holds of the rules of one file or section. */
export interface RewriteContext extends Surroundings {
  /** What Apache takes off the path before a pattern sees it: the folder a `.htaccess` lies in; empty in a server’s file. */
  folder: string
  /** Maps of text by name, lower case. */
  maps: ReadonlyMap<string, ReadonlyMap<string, string>>
  /** Whether the host reads capitals as one with small letters. */
  capitalsMatter: boolean
}

/** What the conditions before a rule come to. */
interface Settled {
  hosts: (string | null)[]
  condition: Condition
  /** A pattern over the whole path that must hold as well. */
  path: string | undefined
  pathFold: boolean
}

type Refuse = { code: string; sentence: string; would: string; at: Directive }
const refusal = (at: Directive, code: string, sentence: string, would = ''): Refuse => ({ code, sentence, would, at })

/** A `RewriteRule` with the `RewriteCond`s before it (Apache 2.4, mod_rewrite). */
export function readRewrite(
  made: ReadingMaker,
  rule: Directive,
  conditions: readonly Directive[],
  context: RewriteContext,
): void {
  const told = rewriteOf(made, rule, conditions, context)
  if (told === undefined) return
  made.refuse(told.at, told.code, told.at.source, told.sentence, told.would)
  // The rule cannot be carried over without its condition.
  if (told.at !== rule)
    made.refuse(
      rule,
      'condition',
      rule.source,
      `The condition of line ${told.at.line} is not carried over.`,
      told.would,
    )
}

function rewriteOf(
  made: ReadingMaker,
  rule: Directive,
  conditions: readonly Directive[],
  context: RewriteContext,
): Refuse | undefined {
  const [pattern = '', substitution = '', flagText = ''] = rule.args
  if (rule.args.length < 2) return refusal(rule, 'arguments', 'It needs a pattern and a substitution.')
  const flags = readFlags(flagText)
  if (!flags) return refusal(rule, 'flags', `“${flagText}” are no flags.`, 'Write them like [R=301,L].')
  const foreign = [...flags.keys()].find((flag) => !KNOWN_FLAGS.has(flag))
  if (foreign) return refusal(rule, 'flags', `The flag “${foreign}” is not carried over.`)
  const status = flags.has('G')
    ? 'gone'
    : flags.has('R')
      ? readStatus(flags.get('R') || '302')
      : /^https?:\/\//i.test(substitution)
        ? 302
        : null
  if (flags.has('F')) return refusal(rule, 'forbidden', 'It forbids (403), and leads nowhere.')
  if (status === null)
    return refusal(rule, 'internal', 'It is no redirect: the server goes on with another path of its own.')
  if (status === undefined)
    return refusal(
      rule,
      'status',
      `${flags.get('R')} is no redirect.`,
      'Only 301, 302, 303, 307, 308 and 410 are carried over.',
    )
  if (pattern.startsWith('!'))
    return refusal(rule, 'negated', 'It holds for all addresses but some.', 'Say for which it holds.')
  const fold = flags.has('NC')
  const lookups = /\$\{([^:}]+):([^}|]*)(?:\|([^}]*))?\}/.exec(substitution)
  if (lookups) return readMap(made, rule, conditions, context, lookups, status)
  const settled = settle(made, conditions, context)
  if ('code' in settled) return settled

  const translated = translateExpression(pattern)
  if (!translated.ok)
    return {
      ...refusal(
        { ...rule, column: rule.column + rule.source.indexOf(pattern) + translated.column - 1 },
        'expression',
        translated.sentence,
        'Write a rule that says the same without it.',
      ),
    }
  const before = context.folder
  let whole = wholeExpression(translated.source, before)
  if (whole === undefined)
    return refusal(rule, 'anchors', 'Its parts begin at different places.', 'Write it as two rules.')
  if (settled.path !== undefined) {
    if (!/^(?:\/?\.\*|\/?\(\.\*\)|\.\*\?\.?(?:\.\*)?|\.\*\?\.\*)$/.test(whole.replace(quoted(before), '')))
      return refusal(
        rule,
        'two-patterns',
        'Its pattern and a condition both ask for a path; one rule has one pattern.',
        'Write the path into the pattern.',
      )
    if (/\$\d/.test(substitution)) {
      if (!/^\/?\(\.\*\)$/.test(whole.replace(quoted(before), '')))
        return refusal(
          rule,
          'two-patterns',
          'Its pattern and a condition both ask for a path.',
          'Write the path into the pattern.',
        )
      return refusal(
        rule,
        'two-patterns',
        'It puts in what its pattern captured, and a condition asks for another path.',
        'Write the path into the pattern.',
      )
    }
    whole = settled.path
  }
  const ignoreCase = fold || (settled.path !== undefined && settled.pathFold)
  if (substitution === '-' && status !== 'gone') return refusal(rule, 'no-destination', 'It names no destination.')
  const literal = literalOf(whole)
  if (status === 'gone') {
    if (!literal || settled.condition.length > 0)
      return refusal(
        rule,
        'gone-pattern',
        'A pattern that is gone has no place in the rules, which lead somewhere.',
        'Not found answers it as 404.',
      )
    for (const host of settled.hosts) {
      made.link({ ...placeOf(rule), host, slug: literal.text.replace(/^\//, ''), destination: null })
    }
    return undefined
  }
  const named = substitution.replace(/%\{HTTP_HOST\}|%\{SERVER_NAME\}/g, () => settled.hosts[0] ?? '')
  if (/%\{REQUEST_URI\}/.test(named)) {
    if (/\$\d/.test(named)) return refusal(rule, 'substitution', 'It puts in the path and what was captured.')
    whole = settled.path === undefined ? '/(.*)' : `/(${whole.replace(/^\//, '')})`
    if (settled.path === undefined && !isAll(wholeExpression(translated.source, before)!, before)) {
      const inner = wholeExpression(translated.source, before)!
      if (!inner.startsWith('/') || translated.groups > 0)
        return refusal(rule, 'substitution', 'It puts in the path by name.', 'Capture what is put in.')
      whole = `/(${inner.slice(1)})`
    }
    return finish(
      made,
      rule,
      settled,
      ignoreCase,
      whole,
      named.replace(/\/?%\{REQUEST_URI\}/, '/$1'),
      1,
      flags,
      status,
      context,
    )
  }
  if (/%\{|%\d/.test(named))
    return refusal(
      rule,
      'substitution',
      'It puts in something other than what its pattern captured.',
      'Capture what is put in with the pattern.',
    )
  return finish(made, rule, settled, ignoreCase, whole, named, translated.groups, flags, status, context)
}

const isAll = (whole: string, before: string) =>
  /^(?:\/?\.\*\??(?:\.\*)?|\/?\(\.\*\)|\.\*\?)$/.test(whole.replace(quoted(before), ''))

function finish(
  made: ReadingMaker,
  rule: Directive,
  settled: Settled,
  ignoreCase: boolean,
  whole: string,
  substitution: string,
  groups: number,
  flags: ReadonlyMap<string, string>,
  status: Exclude<ReturnType<typeof readStatus>, 'gone' | undefined>,
  context: RewriteContext,
): Refuse | undefined {
  for (const host of settled.hosts) {
    const target = absolute(substitution, host)
    if (target === undefined)
      return refusal(
        rule,
        'destination',
        `“${substitution}” is no whole address.`,
        'Write it with https:// and its host.',
      )
    const asks = target.includes('?')
    // Whoever writes “?” and nothing behind it takes the visitor’s query away.
    const clean = target.replace(/\?(?=#|$)/, '')
    const redirect: FileRedirect = {
      status,
      query: flags.has('QSD') || (asks && !flags.has('QSA')) ? 'discard' : 'carry',
      queryConflict: 'both',
    }
    const place = placeOf(rule)
    if (asks && flags.has('QSA') && !flags.has('NE'))
      made.remark(rule, 'The server escapes the escapes of the visitor’s query once more; here they stay as they came.')
    const literal = literalOf(whole)
    if (literal && !/\$\d/.test(clean) && settled.condition.length === 0 && (!ignoreCase || !context.capitalsMatter)) {
      const destination = clean.replace(/\\(.)/g, '$1')
      for (const slug of [literal.text, ...(literal.slash ? [literal.text + '/'] : [])])
        made.link({ ...place, host, slug: slug.replace(/^\//, ''), destination, ...redirect })
      if (literal.dots) made.remark(rule, 'A “.” there takes any character; only the dot itself is carried over.')
      continue
    }
    const template = toTemplate(clean, groups)
    if ('sentence' in template) return refusal(rule, 'substitution', template.sentence)
    made.rule({
      ...place,
      host,
      syntax: 'expression',
      pattern: ignoreCase ? `(?i:${whole})` : whole,
      destination: template.destination,
      condition: settled.condition,
      ...redirect,
    })
  }
  return undefined
}

const KNOWN_FLAGS = new Set(['R', 'L', 'NC', 'QSA', 'QSD', 'NE', 'G', 'F', 'END', 'DPI'])
const LONG: Record<string, string> = {
  redirect: 'R',
  last: 'L',
  nocase: 'NC',
  qsappend: 'QSA',
  qsdiscard: 'QSD',
  noescape: 'NE',
  gone: 'G',
  forbidden: 'F',
  end: 'END',
  discardpath: 'DPI',
  ornext: 'OR',
}

/** Flags in brackets, by their short names. */
function readFlags(text: string): Map<string, string> | undefined {
  if (text === '') return new Map()
  const inner = /^\[(.*)\]$/.exec(text)
  if (!inner) return undefined
  return new Map(
    inner[1]!.split(',').map((flag) => {
      const [name = '', value = ''] = flag.trim().split(/=(.*)/s)
      return [LONG[name.toLowerCase()] ?? name.toUpperCase(), value] as const
    }),
  )
}

/** What conditions come to; a refusal where one of them cannot be said of a link or a rule here. */
function settle(made: ReadingMaker, conditions: readonly Directive[], context: RewriteContext): Settled | Refuse {
  const settled: Settled = { hosts: [context.host, ...context.also], condition: [], path: undefined, pathFold: false }
  let named: string[] = []
  let orNext = false
  for (const directive of conditions) {
    const [test = '', pattern = '', flagText = ''] = directive.args
    const flags = readFlags(flagText)
    if (!flags) return refusal(directive, 'flags', `“${flagText}” are no flags.`)
    const or = flags.has('OR')
    const variable = /^%\{([A-Z_]+)\}$/i.exec(test)?.[1]?.toUpperCase()
    if (variable === 'HTTP_HOST' || variable === 'SERVER_NAME') {
      const host = hostOf(pattern)
      if (host === undefined)
        return refusal(
          directive,
          'host',
          'It asks for hosts by a pattern that is not one host.',
          'Name the host, and bring the file in for each.',
        )
      named.push(...host)
      if (!or) {
        settled.hosts = named
        named = []
      }
      orNext = or
      continue
    }
    if (or || orNext)
      return refusal(
        directive,
        'or',
        'One of several conditions is enough, which a rule’s condition cannot say.',
        'Write a rule for each.',
      )
    if (variable === 'REQUEST_FILENAME' && /^!-[fdsl]$/.test(pattern)) {
      made.remark(directive, 'There are no files behind a short address; that none is there is always so.')
      continue
    }
    if (variable === 'QUERY_STRING') {
      const part = queryOf(pattern, flags.has('NC'))
      if (!part)
        return refusal(
          directive,
          'query',
          'It asks for a query by a pattern that names no whole parameters.',
          'A rule’s condition names parameters, like id=5.',
        )
      settled.condition = [...settled.condition, part]
      continue
    }
    if (variable === 'REQUEST_URI') {
      if (pattern.startsWith('!') || settled.path !== undefined)
        return refusal(directive, 'path', 'It asks for a path besides the pattern.', 'Write the path into the pattern.')
      const translated = translateExpression(pattern)
      if (!translated.ok) return refusal(directive, 'expression', translated.sentence)
      const whole = wholeExpression(translated.source)
      if (whole === undefined) return refusal(directive, 'anchors', 'Its parts begin at different places.')
      settled.path = whole
      settled.pathFold = flags.has('NC')
      continue
    }
    if (variable === 'HTTPS' || variable === 'SERVER_PORT' || variable === 'REQUEST_SCHEME')
      return refusal(
        directive,
        'https',
        'Whether a request came over TLS is the domain’s to decide here.',
        'Switch on “only over HTTPS” for the domain.',
      )
    return refusal(directive, 'condition', `What “${test}” asks is nothing a link or a rule looks at.`)
  }
  return settled
}

/** The host or hosts a pattern takes, where it takes only so many. */
function hostOf(pattern: string): string[] | undefined {
  if (pattern.startsWith('!')) return undefined
  if (pattern.startsWith('=')) return [pattern.slice(1).toLowerCase()]
  const optional = /^\^(?:\((?:\?:)?www\\?\.\)|(?:www\\?\.))\?(.+)$/i.exec(pattern)
  const bare = optional ? '^' + optional[1]! : pattern
  const literal = /^\^((?:[A-Za-z0-9-]|\\?\.)+)\$$/.exec(bare)
  if (!literal) return undefined
  const host = literal[1]!.replace(/\\/g, '').toLowerCase()
  return optional ? [host, `www.${host}`] : [host]
}

const PARAMETER = String.raw`((?:[A-Za-z0-9_~-]|\\?\.|%[0-9A-Fa-f]{2})+)`
const EXACTLY = new RegExp(`^\\^${PARAMETER}=${PARAMETER}?\\$$`)
const AMONG = new RegExp(`^\\(\\??:?\\^\\|&\\)${PARAMETER}=${PARAMETER}?\\((?:\\?:)?(?:&\\|\\$|\\$\\|&)\\)$`)
const NAMED = new RegExp(`^\\(\\??:?\\^\\|&\\)${PARAMETER}=$`)

/** A condition on the query, where its pattern names whole parameters. */
function queryOf(pattern: string, fold: boolean): QueryPart | undefined {
  if (pattern === '^$') return { kind: 'query', mode: 'exactly', text: '' }
  if (fold) return undefined
  const plain = (text = '') => text.replace(/\\/g, '')
  const exactly = EXACTLY.exec(pattern)
  if (exactly) return { kind: 'query', mode: 'exactly', text: `${plain(exactly[1])}=${plain(exactly[2])}` }
  const among = AMONG.exec(pattern)
  if (among) return { kind: 'query', mode: 'contains', text: `${plain(among[1])}=${plain(among[2])}` }
  const named = NAMED.exec(pattern)
  return named ? { kind: 'query', mode: 'contains', text: plain(named[1]) } : undefined
}

/** A rule whose destination is looked up in a map of text: every line of the map is a link. */
function readMap(
  made: ReadingMaker,
  rule: Directive,
  conditions: readonly Directive[],
  context: RewriteContext,
  [whole, name, key]: RegExpExecArray | [string, string, string],
  status: ReturnType<typeof readStatus> & {},
): Refuse | undefined {
  const [pattern = '', substitution = ''] = rule.args
  const map = context.maps.get(name!.toLowerCase())
  if (!map)
    return refusal(
      rule,
      'map',
      `The map “${name}” is not among the files.`,
      'Drop its text file together with this one.',
    )
  const others = conditions.filter(({ args: [test = ''] }) => !test.startsWith('${'))
  const settled = settle(made, others, context)
  if ('code' in settled) return settled
  const form = /^\^?(\/?)\(\.[*+]\)\$?$/.exec(pattern)
  if (!form || key !== '$1' || substitution !== whole || settled.condition.length > 0 || settled.path !== undefined)
    return refusal(
      rule,
      'map-use',
      'It does more with the map than look the whole path up.',
      'Bring the map in as a plain list.',
    )
  // In a server’s file the path has its slash; a pattern that takes it away asks the map without.
  const lead = context.folder === '' && form[1] === '' ? '' : '/'
  if ([...map.values()].some((to) => to.includes('?')))
    made.remark(
      rule,
      'Present versions of the server refuse (403) what a map leads to with a query; here it leads there.',
    )
  for (const [from, to] of map)
    for (const host of settled.hosts) {
      const target = absolute(to, host)
      if (target === undefined) {
        made.refuse(rule, 'destination', `${from} ${to}`, `“${to}” is no whole address.`)
        continue
      }
      made.link({
        ...placeOf(rule),
        host,
        slug: (lead + from).replace(/^\//, ''),
        destination: status === 'gone' ? null : target.replace(/\?$/, ''),
        ...(status !== 'gone' && { status }),
        query: target.includes('?') ? 'discard' : 'carry',
        queryConflict: 'both',
      })
    }
  return undefined
}
