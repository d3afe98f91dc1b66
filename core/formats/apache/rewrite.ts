import type { FileRedirect } from '../format'
import type { ReadingMaker } from '../reading'
import { quoted } from '../../patterns'
import { literalOf, wholeExpression } from '../regex/whole'
import { translateExpression } from '../regex/translate'
import { readStatus } from '../status'
import { absolute, KEEPS_SCHEME, toTemplate } from './alias'
import { placeOf, type Directive } from './directives'
import { refusal, settle, type Refusal, type RewriteContext, type Settled } from './rewrite-conditions'
import { KNOWN_FLAGS, readFlags } from './rewrite-flags'
import { readMap } from './rewrite-map'

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
  if (told.at.line !== rule.line)
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
): Refusal | undefined {
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
    return refusal(rule, 'internal', 'Not a redirect: the server continues with another internal path.')
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
    // What its pattern captures would be of another path than the condition's.
    if (!takesAll(whole, before) || /\$\d/.test(substitution))
      return refusal(
        rule,
        'two-patterns',
        'Its pattern and a condition both ask for a path; one rule has one pattern.',
        'Write the path into the pattern.',
      )
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
    if (settled.path === undefined && !takesAll(wholeExpression(translated.source, before)!, before)) {
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
  if (/%\{|%\d/.test(named.replace(/\\./g, '')))
    return refusal(
      rule,
      'substitution',
      'It puts in something other than what its pattern captured.',
      'Capture what is put in with the pattern.',
    )
  return finish(made, rule, settled, ignoreCase, whole, named, translated.groups, flags, status, context)
}

/** Whether a pattern takes every path, whatever it captures of it. */
const takesAll = (whole: string, before: string) =>
  /^\/?(?:\.\*\??)*$|^\/?\(\.\*\)$/.test(whole.startsWith(quoted(before)) ? whole.slice(quoted(before).length) : whole)

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
): Refusal | undefined {
  if (!/^[a-z][a-z0-9+.-]*:/i.test(substitution)) made.remark(rule, KEEPS_SCHEME)
  // Only in a folder is a target without a slash put behind the base (Apache 2.4, RewriteBase).
  const base = context.folder === '' ? undefined : context.rewriteBase
  const based =
    base !== undefined && !/^(?:[a-z][a-z0-9+.-]*:|\/)/i.test(substitution)
      ? `${base.replace(/\/?$/, '/')}${substitution}`
      : substitution
  const written = flags.has('NE') ? based : escapedTarget(based)
  if (flags.has('NE') && /(?<!\\)\$[1-9]/.test(based))
    made.remark(
      rule,
      'With NE the server puts in what it captured decoded, “%20” as a blank; here escapes stay escapes.',
    )
  if (flags.has('CO')) made.remark(rule, 'The server sets a cookie with it; here none is set.')
  for (const host of settled.hosts) {
    const target = absolute(written, host)
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
    if (redirect.query === 'carry' && clean.includes('#'))
      made.remark(
        rule,
        'The server puts the visitor’s query behind the “#”, where no website sees it; here it comes before it.',
      )
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

/**
 * A target as the server sends it without the flag NE: what an address cannot hold, “#” and “%” too, is escaped
 * (Apache 2.4, RewriteRule Flags, NE; ap_os_escape_path). References stay, and a backslash keeps what follows it.
 */
function escapedTarget(target: string): string {
  const question = target.indexOf('?')
  let escaped = ''
  for (let at = 0; at < target.length; at++) {
    const kept = target[at] === '\\' && at + 1 < target.length
    const character = String.fromCodePoint(target.codePointAt(kept ? ++at : at)!)
    if (kept && character === '$') escaped += '\\$'
    else if (/[A-Za-z0-9$\-_.+!*'(),:;@&=/~]/.test(character) || (at === question && !kept)) escaped += character
    else escaped += escapedCharacter(character)
    at += character.length - 1
  }
  return escaped
}

const escapedCharacter = (character: string) =>
  [...new TextEncoder().encode(character)]
    .map((octet) => `%${octet.toString(16).toUpperCase().padStart(2, '0')}`)
    .join('')
