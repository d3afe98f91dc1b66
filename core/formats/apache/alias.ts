import type { FileRedirect } from '../format'
import type { ReadingMaker } from '../reading'
import { literalOf, quotedPath, wholeExpression } from '../regex/whole'
import { translateExpression } from '../regex/translate'
import { readStatus } from '../status'
import { placeOf, type Directive } from './directives'

/** What a directive stands in, as far as it matters to what it means. */
export interface Surroundings {
  host: string | null
  /** Hosts of the same section beside the first. */
  also: readonly string[]
}

/** Said of a target without a scheme: answers here hold a whole address. */
export const KEEPS_SCHEME = 'The server keeps the scheme and port it was asked by; here it is HTTPS.'

const STATUS_WORDS: Record<string, string> = { redirectpermanent: '301', redirecttemp: '302' }

/**
 * `Redirect`, `RedirectPermanent`, `RedirectTemp`, `RedirectMatch` (Apache 2.4, mod_alias). A prefix takes whole
 * segments; what stands behind it goes on behind the destination, the visitor’s query too, unless the destination has
 * one.
 */
export function readAlias(
  made: ReadingMaker,
  directive: Directive,
  { host, also }: Surroundings,
  trailingSlashMatters: boolean,
): void {
  const { name, args, source } = directive
  const match = name === 'redirectmatch'
  const words = [...args]
  const first =
    STATUS_WORDS[name] ??
    (readStatus(words[0] ?? '') !== undefined || /^\d{3}$/.test(words[0] ?? '') ? words.shift()! : '302')
  const status = readStatus(first)
  if (status === undefined)
    return made.refuse(
      directive,
      'status',
      source,
      `${first} is no redirect.`,
      'Only 301, 302, 303, 307, 308 and 410 are carried over.',
    )
  const [from = '', to] = words
  if (status === 'gone' ? words.length !== 1 : words.length !== 2)
    return made.refuse(directive, 'arguments', source, 'It has not the arguments it needs: a path and a destination.')
  if (!match && !from.startsWith('/'))
    return made.refuse(
      directive,
      'path',
      source,
      `“${from}” does not begin with a slash; the server takes it for nothing.`,
    )
  const hosts = [host, ...also]
  const place = placeOf(directive)
  if (status === 'gone') return readGone(made, directive, hosts, from, match)
  const target = absolute(to!, host)
  if (to!.startsWith('/')) made.remark(directive, KEEPS_SCHEME)
  if (target === undefined)
    return made.refuse(
      directive,
      'destination',
      source,
      `“${to}” is no whole address.`,
      'Write it with https:// and its host.',
    )
  const { before, query, fragment } = partsOf(target)
  if (fragment !== '')
    made.remark(
      directive,
      `The server puts the visitor’s query behind “#${fragment}”, where no website sees it; here it is dropped.`,
    )
  const redirect: FileRedirect = {
    status,
    query: query === '' && fragment === '' && !target.includes('?') ? 'carry' : 'discard',
    queryConflict: 'both',
  }
  for (const one of hosts) {
    if (match) {
      readMatch(made, directive, one, from, target, redirect)
      continue
    }
    if (query !== '' || fragment !== '' || target.includes('?')) {
      // What follows goes behind the query: one address is what was meant, and others can hardly be.
      made.link({ ...place, host: one, slug: typedSlug(from), destination: target, ...redirect })
      const behind = target.slice(before.length)
      made.remark(
        directive,
        `Addresses below ${from} are not carried over: the server would put their rest behind “${behind}”.`,
      )
    } else readPrefix(made, directive, { host: one, from, target, redirect }, trailingSlashMatters)
  }
}

interface Prefix {
  host: string | null
  from: string
  target: string
  redirect: FileRedirect
}

/** A prefix takes itself and, behind a slash, all below it; what stands there goes on behind the destination. */
function readPrefix(
  made: ReadingMaker,
  directive: Directive,
  { host, from, target, redirect }: Prefix,
  trailingSlashMatters: boolean,
): void {
  const place = placeOf(directive)
  const link = (path: string, destination: string) =>
    made.link({ ...place, host, slug: typedSlug(path), destination, ...redirect })
  const rule = (pattern: string, destination: string) =>
    made.rule({ ...place, host, syntax: 'expression', pattern, destination, condition: [], ...redirect })
  const bare = /^[a-z]+:\/\/[^/?#]+$/i.test(target)
  if (from === '/') return rule('/(.*)', `${bare ? `${target}/` : target}{+1}`)
  if (from.endsWith('/')) {
    if (!bare) return rule(`${quotedPath(from)}(.*)`, `${target}{+1}`)
    return made.refuse(
      directive,
      'destination',
      directive.source,
      'What follows would be put right behind the host.',
      'End the destination with a slash.',
    )
  }
  link(from, target)
  // Nothing lies below a file.
  if (/\.[A-Za-z]\w{1,4}$/.test(from))
    return made.remark(directive, `Addresses below ${from}/ are not carried over; nobody looks for any below a file.`)
  if (trailingSlashMatters) link(`${from}/`, `${target}/`)
  if (bare) rule(`${quotedPath(from)}/(.+)`, `${target}/{+1}`)
  else rule(`${quotedPath(from)}(/.+)`, `${target}{+1}`)
}

function readGone(
  made: ReadingMaker,
  directive: Directive,
  hosts: readonly (string | null)[],
  from: string,
  match: boolean,
): void {
  const translated = match ? translateExpression(from) : undefined
  const whole = translated?.ok ? wholeExpression(translated.source) : undefined
  const literal = whole === undefined ? undefined : literalOf(whole)
  if (match && !literal)
    return made.refuse(
      directive,
      'gone-pattern',
      directive.source,
      'A pattern that is gone has no place in the rules, which lead somewhere.',
      'Not found answers it as 404.',
    )
  const slug = literal ? literal.text.slice(1) : typedSlug(from)
  const slash = literal ? literal.slash : !slug.endsWith('/')
  for (const host of hosts)
    for (const one of slash ? [slug, `${slug}/`] : [slug])
      made.link({ ...placeOf(directive), host, slug: one, destination: null })
  if (!match) made.remark(directive, `Addresses below ${from} were gone too (410); they are not found here (404).`)
}

function readMatch(
  made: ReadingMaker,
  directive: Directive,
  host: string | null,
  from: string,
  target: string,
  redirect: FileRedirect,
): void {
  const translated = translateExpression(from)
  if (!translated.ok)
    return made.refuse(
      { ...directive, column: directive.column + Math.max(0, directive.source.indexOf(from)) + translated.column - 1 },
      'expression',
      directive.source,
      translated.sentence,
      'Write a rule that says the same without it.',
    )
  const whole = wholeExpression(translated.source)
  if (whole === undefined)
    return made.refuse(
      directive,
      'anchors',
      directive.source,
      'Its parts begin at different places.',
      'Write it as two lines.',
    )
  const place = placeOf(directive)
  const literal = literalOf(whole)
  if (literal && !/\$\d/.test(target)) {
    made.link({ ...place, host, slug: literal.text.slice(1), destination: target, ...redirect })
    if (literal.slash)
      made.link({ ...place, host, slug: literal.text.slice(1) + '/', destination: target, ...redirect })
    if (literal.dots) made.remark(directive, 'A “.” there takes any character; only the dot itself is carried over.')
    return
  }
  const template = toTemplate(target, translated.groups)
  if ('sentence' in template) return made.refuse(directive, 'substitution', directive.source, template.sentence)
  made.rule({
    ...place,
    host,
    syntax: 'expression',
    pattern: whole,
    destination: template.destination,
    condition: [],
    ...redirect,
  })
}

/** A destination with `$1` as a template with `{+1}`. Captures must stand behind the host. */
export function toTemplate(target: string, groups: number): { destination: string } | { sentence: string } {
  let destination = ''
  for (let at = 0; at < target.length; at++) {
    const reference = /^\$(\d)/.exec(target.slice(at))
    if (target[at] === '\\' && at + 1 < target.length) destination += target[++at]!.replace(/[{}]/g, encodeURIComponent)
    else if (reference) {
      const group = Number(reference[1])
      if (group === 0)
        return { sentence: '“$0”, all that matched, has no name here; put it in parentheses and use $1.' }
      // A group that is not there gives nothing.
      if (group <= groups) destination += `{+${group}}`
      at++
    } else destination += /[{}]/.test(target[at]!) ? encodeURIComponent(target[at]!) : target[at]
  }
  if (destination.includes('{+') && !/^[a-z][a-z0-9+.-]*:\/\/[^/?#{]+[/?#]/i.test(destination))
    return { sentence: 'What was captured would choose the host; a rule’s destination has its host written out.' }
  return { destination }
}

/** A decoded path as a slug; what would be taken for an escape is escaped. */
const typedSlug = (path: string) => path.replace(/^\//, '').replaceAll('%', '%25')

/** A destination as a whole address; one that begins with a slash is of the same host. */
export function absolute(to: string, host: string | null): string | undefined {
  if (/^[a-z][a-z0-9+.-]*:/i.test(to)) return to
  if (to.startsWith('/') && !to.startsWith('//') && host !== null) return `https://${host}${to}`
  return undefined
}

function partsOf(target: string): { before: string; query: string; fragment: string } {
  const before = /^[^?#]*/.exec(target)![0]
  const hash = target.indexOf('#')
  const question = target.indexOf('?')
  return {
    before,
    query:
      question === -1 || (hash !== -1 && hash < question)
        ? ''
        : target.slice(question + 1, hash === -1 ? undefined : hash),
    fragment: hash === -1 ? '' : target.slice(hash + 1),
  }
}
