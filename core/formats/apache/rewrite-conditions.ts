import type { Condition, QueryPart } from '../../conditions'
import type { ReadingMaker } from '../reading'
import { wholeExpression } from '../regex/whole'
import { translateExpression } from '../regex/translate'
import type { Surroundings } from './alias'
import type { Directive } from './directives'
import { readFlags } from './rewrite-flags'

/** What holds of the rules of one file or section. */
export interface RewriteContext extends Surroundings {
  /**
   * What Apache takes off the path before a pattern sees it: the folder a `.htaccess` lies in; empty in a server’s
   * file.
   */
  folder: string
  /** What stands before a target without a slash (RewriteBase). */
  rewriteBase: string | undefined
  /** Maps of text by name, lower case. */
  maps: ReadonlyMap<string, ReadonlyMap<string, string>>
  /** Whether the host reads capitals as one with small letters. */
  capitalsMatter: boolean
}

/** What the conditions before a rule come to. */
export interface Settled {
  hosts: (string | null)[]
  condition: Condition
  /** A pattern over the whole path that must hold as well. */
  path: string | undefined
  pathFold: boolean
}

/** What is not carried over: at which directive, why, and what would do. */
export interface Refusal {
  at: Directive
  code: string
  sentence: string
  would: string
}
export const refusal = (at: Directive, code: string, sentence: string, would = ''): Refusal => ({
  at,
  code,
  sentence,
  would,
})

/** What conditions come to; a refusal where one of them cannot be said of a link or a rule here. */
export function settle(made: ReadingMaker, conditions: readonly Directive[], context: Surroundings): Settled | Refusal {
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
