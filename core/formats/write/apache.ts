import { splitDestination } from '../../address'
import { quoted, wholeSource } from '../../patterns'
import type { DomainRow, RuleRow } from '../../rows'
import { conditionsOf } from './conditions'
import { asCompared, decodedSource } from './decoded'
import { CannotList, standingOf, tellDates, type OutLink, type Outgoing, type Written } from './outgoing'

/** A destination as a substitution: `$` and `%` would be references there. */
const substitution = (text: string) => text.replace(/[\\$%]/g, '\\$&').replace(/"/g, '%22')

/**
 * A part of Apache's configuration for one virtual host (Apache 2.4, mod_rewrite) that answers as the gateway does, as
 * far as that server can; what it cannot is told.
 */
export function writeApache(outgoing: Outgoing): Written {
  const { domain, links, rules, whole } = outgoing
  const cannot = new CannotList()
  tellDates(outgoing, cannot)
  const name = `${domain.host}.conf`
  const lines = [
    `# Redirects of ${domain.host}, as of ${new Date(outgoing.at).toISOString()}.`,
    '# Include it in the <VirtualHost> of this name. It needs mod_rewrite.',
    'MergeSlashes Off',
    'RewriteEngine On',
  ]
  const end = domain.trailingSlashMatters ? '' : '/?'
  const fold = domain.capitalsMatter ? '' : ',NC'
  for (const link of links) {
    tellReading(link, cannot)
    const pattern = `"^/${quoted(asCompared(link.canonical))}${end}$"`
    const standing = standingOf(outgoing, link)
    if (standing.kind === 'page') {
      lines.push(`RewriteRule ${pattern} - ${standing.status === 410 ? '[G' : '[R=404,L'}${fold}]`)
      continue
    }
    for (const [to, flags, asked] of waysOf(standing.location, standing.carry)) {
      if (asked) lines.push(ASKED)
      lines.push(`RewriteRule ${pattern} "${to}" [R=${standing.status},L,NE${fold}${flags}]`)
    }
    if (standing.carry && standing.location.includes('?') && link.queryConflict !== 'both')
      tellMerging(cannot, link.slug)
  }
  if (rules.length > 0) lines.push('', ...rulesOf(rules, domain.capitalsMatter, domain.trailingSlashMatters, cannot))
  if (whole) lines.push('', ...fallbacksOf(outgoing))
  cannot.add('leading-slashes', 'Several slashes at the begin of an address are taken for one.')
  tellGeneral(outgoing, cannot)
  return {
    files: [{ name, text: lines.join('\n') + '\n' }],
    cannot: cannot.all,
    steps: [
      'Switch the module on that rewrites: a2enmod rewrite',
      `Put ${name} where the server reads it, and write into the <VirtualHost> of ${domain.host}: Include ${name}`,
      'Check the configuration: apache2ctl configtest',
      'Reload without interrupting requests: apache2ctl graceful',
      ...(links[0] ? [`See whether it answers: curl -sI https://${domain.host}/${links[0].slug}`] : []),
      ...(links.length > 2000
        ? [`It asks ${links.length.toLocaleString('en')} lines one after the other; nginx finds an address at once.`]
        : []),
    ],
  }
}

/** Holds where something was asked; the query is `%1` then. */
const ASKED = 'RewriteCond "%{QUERY_STRING}" "(.+)"'

/**
 * How a destination is written so that what becomes of a visitor's query is right: as substitutions with their flags,
 * the first for requests that have a query. A fragment stays behind it.
 */
function* waysOf(location: string, carry: boolean): Generator<[to: string, flags: string, asked: boolean]> {
  const { base, query, fragment } = splitDestination(location)
  if (!carry) yield [substitution(location), ',QSD', false]
  else if (fragment === '') yield [substitution(location), query === '' ? '' : ',QSA', false]
  else {
    const own = query === '' ? '?' : `?${query}&`
    yield [`${substitution(base + own)}%1${substitution(fragment)}`, '', true]
    yield [substitution(location), ',QSD', false]
  }
}

const tellMerging = (cannot: CannotList, subject: string) =>
  cannot.add('merging', 'Where both have a parameter of one name, both are kept.', subject)

/** How the address is read, where the server reads it otherwise. */
export function tellReading({ slug, canonical }: OutLink, cannot: CannotList): void {
  // eslint-disable-next-line no-control-regex
  if (!/^[\x00-\x7f]*$/.test(canonical))
    cannot.add(
      'letters',
      'Letters beyond ASCII are compared byte by byte: other capitals and other ways to compose them are not found.',
      slug,
    )
}

export function tellGeneral({ domain }: Outgoing, cannot: CannotList): void {
  const { punctuation, capitals, lookAlikes } = domain.forgiveness
  if (punctuation || capitals || lookAlikes) cannot.add('mending', 'Mistyped addresses are not corrected.')
  cannot.add(
    'escapes',
    'An address written with escapes of marks, such as %21 for “!”, is taken for the one written plainly.',
  )
  cannot.add('visits', 'Visits are not counted, nothing is checked, and the pages for not found are the server’s own.')
}

function rulesOf(
  rules: readonly RuleRow[],
  capitalsMatter: boolean,
  slashMatters: boolean,
  cannot: CannotList,
): string[] {
  // The path as rules see it: without the slash at its end, and in small letters where capitals do not matter.
  const path = capitalsMatter ? '$1' : '${fides-lower:$1}'
  const end = slashMatters ? '^(.*)$' : '^(/|/.*?[^/]|/.*?//)/?$'
  const lines = [
    ...(capitalsMatter ? [] : ['RewriteMap fides-lower int:tolower']),
    `RewriteRule "${end}" - [E=FIDES_PATH:${path}]`,
  ]
  for (const rule of rules) {
    const source = wholeSource(rule.syntax, rule.pattern, !capitalsMatter)
    const conditions = conditionsOf(rule)
    if (source === undefined || conditions === undefined) {
      cannot.add('conditions', 'A rule that looks at more than the path and one parameter is left out.', rule.pattern)
      continue
    }
    cannot.add(
      'captures',
      'What a rule puts in goes in as it is asked, decoded once: odd characters may differ.',
      rule.pattern,
    )
    if (conditions.length > 0)
      cannot.add('parameters', 'Parameters are compared as they are written, not decoded.', rule.pattern)
    const own = rule.destination.includes('?')
    if (rule.query === 'carry' && own && rule.queryConflict !== 'both') tellMerging(cannot, rule.pattern)
    if (rule.query === 'carry' && rule.destination.includes('#'))
      cannot.add('fragments', 'A visitor’s query stands behind the fragment, where nobody reads it.', rule.pattern)
    for (const slug of rule.except)
      lines.push(
        `RewriteCond "%{ENV:FIDES_PATH}" "!^/${quoted(asCompared(capitalsMatter ? slug : slug.toLowerCase()))}$"`,
      )
    for (const condition of conditions) lines.push(`RewriteCond "%{QUERY_STRING}" "${condition}"`)
    const pattern = `"${decodedSource(source.expression).replace(/"/g, '\\x22')}"`
    if (!slashMatters) lines.push(`RewriteCond "%{ENV:FIDES_PATH}" ${pattern} [OR]`)
    lines.push(`RewriteCond "%{ENV:FIDES_PATH}${slashMatters ? '' : '/'}" ${pattern}`)
    const to = substitutionOf(rule.destination, source.numberOf, '%')
    const flags = rule.query === 'discard' ? ',QSD' : own ? ',QSA' : ''
    lines.push(`RewriteRule "^" "${to}" [R=${rule.status},L,NE${flags}]`)
  }
  return lines
}

/** A template with its captures as numbered references. */
export function substitutionOf(
  template: string,
  numberOf: (name: string) => number | undefined,
  mark: '%' | '$',
  plain: (text: string) => string = substitution,
): string {
  return template
    .split(/(\{\+?[A-Za-z0-9_]+\})/)
    .map((part) => {
      const name = /^\{\+?([A-Za-z0-9_]+)\}$/.exec(part)?.[1]
      if (name === undefined) return plain(part)
      const number = numberOf(name)
      return number === undefined ? '' : `${mark}${number}`
    })
    .join('')
}

/** Addresses that are the gateway's own, and the bare domain, as an expression behind the slash. */
export const reservedOf = ({ trailingSlashMatters }: DomainRow) =>
  `(?:robots\\.txt|favicon\\.ico)${trailingSlashMatters ? '' : '/?'}|\\.well-known(?:/.*)?|`

function fallbacksOf({ domain }: Outgoing): string[] {
  const fold = domain.capitalsMatter ? '' : ' [NC]'
  const lines: string[] = []
  if (domain.rootDestination) lines.push(`RewriteRule "^/$" "${substitution(domain.rootDestination)}" [R=302,L,NE,QSD]`)
  if (domain.notFoundDestination)
    lines.push(
      `RewriteCond "%{REQUEST_URI}" "!^/(?:${reservedOf(domain)})$"${fold}`,
      `RewriteRule "^" "${substitution(domain.notFoundDestination)}" [R=302,L,NE,QSD]`,
    )
  return lines
}
