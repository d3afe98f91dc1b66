import { splitDestination } from '../../address'
import { quoted, wholeSource } from '../../patterns'
import type { RuleRow } from '../../rows'
import { reservedOf, substitutionOf, tellGeneral, tellReading } from './apache'
import { conditionsOf } from './conditions'
import { asCompared, decodedSource } from './decoded'
import { CannotList, standingOf, tellDates, type Outgoing, type Written } from './outgoing'

/**
 * Variables are of the whole server: those of each domain have its name behind theirs. Labels neither begin nor end
 * with a hyphen (RFC 1123 §2.1), so that no two hosts come to one name.
 */
const variableOf = (host: string) => (name: string) =>
  `fides_${name}_${host.replaceAll('-', '__').replace(/[^a-z0-9_]/g, '_')}`

/** Texts of nginx’s configuration: quotes kept, and `$` where it begins no variable of its own. */
const textsOf = (name: (of: string) => string) => {
  const plain = (text: string) => text.replace(/"/g, '\\"').replaceAll('$', `\${${name('dollar')}}`)
  return { name, plain, inQuotes: (text: string) => `"${plain(text)}"` }
}
type Texts = ReturnType<typeof textsOf>

/**
 * Parts of nginx's configuration (ngx_http_map_module, ngx_http_rewrite_module) that answer as the gateway does, as
 * far as that server can; what it cannot is told. Links are found at once, however many there are.
 */
export function writeNginx(outgoing: Outgoing): Written {
  const { domain, links, rules, whole } = outgoing
  const cannot = new CannotList()
  tellDates(outgoing, cannot)
  const texts = textsOf(variableOf(domain.host))
  const { name: nameOf, inQuotes } = texts
  const [dollar, more, path, bare] = ['dollar', 'more', 'path', 'bare'].map(nameOf)
  const maps = new Map<string, { status: number; rows: string[] }>()
  const locations: string[] = []
  for (const link of links) {
    tellReading(link, cannot)
    const standing = standingOf(outgoing, link)
    const value = standing.kind === 'page' ? '1' : locationOf(link, standing, texts, cannot)
    const status = standing.status
    const compared = `/${asCompared(link.canonical)}`
    const paths = [compared, ...(domain.trailingSlashMatters ? [] : [`${compared}/`])]
    if (domain.capitalsMatter)
      for (const one of paths)
        locations.push(
          `location = ${inQuotes(one)} { return ${status}${standing.kind === 'page' ? '' : ` ${value}`}; }`,
        )
    else {
      const name = nameOf(`to_${status}`)
      const { rows } = maps.get(name) ?? maps.set(name, { status, rows: [] }).get(name)!
      for (const one of paths) rows.push(`  ${inQuotes(one)} ${value};`)
    }
  }
  const http = [
    `# Redirects of ${domain.host}, as of ${new Date(outgoing.at).toISOString()}: into “http”.`,
    `geo $${dollar} { default "$"; }`,
    `map $args $${more} { "" ""; default "&$args"; }`,
    ...(domain.trailingSlashMatters
      ? [`map $uri $${path} { default $uri; }`]
      : [`map $uri $${path} { default $uri; "~^(?<${bare}>/.*?[^/]|/.*?//)/$" $${bare}; }`]),
    ...[...maps].flatMap(([name, { rows }]) => [`map $uri $${name} {`, '  default "";', ...rows, '}']),
  ]
  const server = [
    `# Redirects of ${domain.host}, as of ${new Date(outgoing.at).toISOString()}: into its “server”.`,
    'merge_slashes off;',
    ...[...maps].map(([name, { status }]) => `if ($${name}) { return ${status}${status >= 400 ? '' : ` $${name}`}; }`),
    ...locations,
    'location / {',
    `  set $${nameOf('ask')} "$args $${path}";`,
    `  set $${nameOf('ask_slash')} "$args $${path}/";`,
    ...rulesOf(rules, outgoing, texts, cannot),
    ...(whole ? fallbacksOf(outgoing, texts) : []),
    '  return 404;',
    '}',
  ]
  tellGeneral(outgoing, cannot)
  const names = { http: `${domain.host}.http.conf`, server: `${domain.host}.server.conf` }
  const most = Math.max(0, ...[...maps.values()].map(({ rows }) => rows.length))
  return {
    files: [
      { name: names.http, text: http.join('\n') + '\n' },
      { name: names.server, text: server.join('\n') + '\n' },
    ],
    cannot: cannot.all,
    steps: [
      `Write into “http”: include ${names.http};`,
      `Write into the “server” of ${domain.host}: include ${names.server};`,
      ...(most > 1000
        ? [`Beside the first line, for ${most.toLocaleString('en')} addresses: map_hash_max_size ${hashSize(most)};`]
        : []),
      'Beside it, where addresses are long: map_hash_bucket_size 512;',
      'Have the server look at it before it uses it: nginx -t',
      'Take it in without ending anybody’s request: nginx -s reload',
      ...(links[0] ? [`See whether it answers: curl -sI https://${domain.host}/${links[0].slug}`] : []),
    ],
  }
}

const hashSize = (rows: number) => 2 ** Math.ceil(Math.log2(rows * 2))

/** Where a link leads, as a value that may hold variables. */
function locationOf(
  { slug, queryConflict }: { slug: string; queryConflict: string },
  { location, carry }: { location: string; carry: boolean },
  { name, plain, inQuotes }: Texts,
  cannot: CannotList,
): string {
  if (!carry) return inQuotes(location)
  const { base, query, fragment } = splitDestination(location)
  if (query === '') return `"${plain(base)}$is_args$args${plain(fragment)}"`
  if (queryConflict !== 'both') cannot.add('merging', 'Where both have a parameter of one name, both are kept.', slug)
  return `"${plain(base)}?${plain(query)}$${name('more')}${plain(fragment)}"`
}

function rulesOf(
  rules: readonly RuleRow[],
  { domain }: Outgoing,
  { name, plain }: Texts,
  cannot: CannotList,
): string[] {
  const { capitalsMatter, trailingSlashMatters } = domain
  const lines: string[] = []
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
    if (!capitalsMatter && rule.destination.includes('{'))
      cannot.add('capitals', 'What a rule puts in keeps its capitals, which do not matter here.', rule.pattern)
    if (conditions.length > 0)
      cannot.add('parameters', 'Parameters are compared as they are written, not decoded.', rule.pattern)
    const path = decodedSource(source.expression).replace(/^\^/, '').replace(/\$$/, '')
    const asked = conditions.map((condition) => `(?=${withinArgs(condition)})`).join('')
    const excepted = rule.except
      .map((slug) => `(?![^ ]* /${quoted(asCompared(slug))}${trailingSlashMatters ? '' : '/?'}$)`)
      .join('')
    const expression = `"^${asked}${excepted}[^ ]* ${path}$"`.replace(/(?<!^)"(?!$)/g, '\\x22')
    const { base, query, fragment } = splitDestination(rule.destination)
    const part = (text: string) => substitutionOf(text, source.numberOf, '$', plain)
    if (rule.query === 'carry' && query !== '' && rule.queryConflict !== 'both')
      cannot.add('merging', 'Where both have a parameter of one name, both are kept.', rule.pattern)
    const asks = query === '' ? '' : `?${part(query)}`
    const more = rule.query === 'discard' ? '' : query === '' ? '$is_args$args' : `$${name('more')}`
    const to = `"${part(base)}${asks}${more}${part(fragment)}"`
    const mark = capitalsMatter ? '~' : '~*'
    lines.push(`  if ($${name('ask')} ${mark} ${expression}) { return ${rule.status} ${to}; }`)
    if (!trailingSlashMatters)
      lines.push(`  if ($${name('ask_slash')} ${mark} ${expression}) { return ${rule.status} ${to}; }`)
  }
  return lines
}

/** An expression over a query, looked for in what stands before the blank. */
const withinArgs = (condition: string) =>
  condition
    .replace(/^\^/, '')
    .replace(/^\(\?:\^\|&\)/, '(?:[^ ]*&)?')
    .replace(/\(\?:&\|\$\)$/, '(?:&[^ ]*)? ')
    .replace(/\$$/, ' ')

function fallbacksOf({ domain }: Outgoing, { inQuotes }: Texts): string[] {
  const lines: string[] = []
  if (domain.rootDestination) lines.push(`  if ($uri = "/") { return 302 ${inQuotes(domain.rootDestination)}; }`)
  if (domain.notFoundDestination)
    lines.push(
      `  if ($uri ${domain.capitalsMatter ? '~' : '~*'} "^/(?:${reservedOf(domain)})$") { return 404; }`,
      `  return 302 ${inQuotes(domain.notFoundDestination)};`,
    )
  return lines
}
