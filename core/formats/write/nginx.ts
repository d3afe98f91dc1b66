import { splitDestination } from '../../address'
import { quoted, wholeSource } from '../../patterns'
import type { RuleRow } from '../../rows'
import { reservedOf, substitutionOf, tellGeneral, tellReading } from './apache'
import { conditionsOf } from './conditions'
import { CannotList, standingOf, tellDates, type Outgoing, type Written } from './outgoing'

/** A text of nginx's configuration: quotes kept, and `$` where it begins no variable. */
const inQuotes = (text: string) => `"${text.replace(/"/g, '\\"').replaceAll('$', '${dollar}')}"`

/**
 * Parts of nginx's configuration (ngx_http_map_module, ngx_http_rewrite_module) that answer as the gateway does, as
 * far as that server can; what it cannot is told. Links are found at once, however many there are.
 */
export function writeNginx(outgoing: Outgoing): Written {
  const { domain, links, rules, whole } = outgoing
  const cannot = new CannotList()
  tellDates(outgoing, cannot)
  const id = domain.host.replace(/[^a-z0-9]/g, '_')
  const maps = new Map<string, string[]>()
  const locations: string[] = []
  for (const link of links) {
    tellReading(link, cannot)
    const standing = standingOf(outgoing, link)
    const value = standing.kind === 'page' ? '1' : locationOf(link, standing, cannot)
    const status = standing.status
    const paths = [`/${link.canonical}`, ...(domain.trailingSlashMatters ? [] : [`/${link.canonical}/`])]
    if (domain.capitalsMatter)
      for (const path of paths)
        locations.push(
          `location = ${inQuotes(path)} { return ${status}${standing.kind === 'page' ? '' : ` ${value}`}; }`,
        )
    else {
      const name = `fides_${id}_${status}`
      const rows = maps.get(name) ?? []
      maps.set(name, rows)
      for (const path of paths) rows.push(`  ${mapKey(path)} ${value};`)
    }
  }
  const http = [
    `# Redirects of ${domain.host}, as of ${new Date(outgoing.at).toISOString()}: into “http”.`,
    'geo $dollar { default "$"; }',
    'map $args $fides_more { "" ""; default "&$args"; }',
    ...(domain.trailingSlashMatters
      ? ['map $uri $fides_path { default $uri; }']
      : ['map $uri $fides_path { default $uri; "~^(?<fides_bare>/.*?[^/]|/.*?//)/$" $fides_bare; }']),
    ...[...maps].flatMap(([name, rows]) => [`map $uri $${name} {`, '  default "";', ...rows, '}']),
  ]
  const server = [
    `# Redirects of ${domain.host}, as of ${new Date(outgoing.at).toISOString()}: into its “server”.`,
    'merge_slashes off;',
    ...[...maps.keys()].map((name) => {
      const status = Number(name.split('_').at(-1))
      return `if ($${name}) { return ${status}${status >= 400 ? '' : ` $${name}`}; }`
    }),
    ...locations,
    'location / {',
    '  set $fides_ask "$args $fides_path";',
    '  set $fides_ask_slash "$args $fides_path/";',
    ...rulesOf(rules, outgoing, cannot),
    ...(whole ? fallbacksOf(outgoing) : []),
    '  return 404;',
    '}',
  ]
  tellGeneral(outgoing, cannot)
  const names = { http: `${domain.host}.http.conf`, server: `${domain.host}.server.conf` }
  const most = Math.max(0, ...[...maps.values()].map((rows) => rows.length))
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

/** A key of a map; what would be taken for a word of its own is escaped (ngx_http_map_module). */
const mapKey = (path: string) => inQuotes(path)

/** Where a link leads, as a value that may hold variables. */
function locationOf(
  { slug, queryConflict }: { slug: string; queryConflict: string },
  { location, carry }: { location: string; carry: boolean },
  cannot: CannotList,
): string {
  if (!carry) return inQuotes(location)
  const { base, query, fragment } = splitDestination(location)
  const plain = (text: string) => text.replace(/"/g, '\\"').replaceAll('$', '${dollar}')
  if (query === '') return `"${plain(base)}$is_args$args${plain(fragment)}"`
  if (queryConflict !== 'both') cannot.add('merging', 'Where both have a parameter of one name, both are kept.', slug)
  return `"${plain(base)}?${plain(query)}$fides_more${plain(fragment)}"`
}

function rulesOf(rules: readonly RuleRow[], { domain }: Outgoing, cannot: CannotList): string[] {
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
    const path = source.expression.replace(/^\^/, '').replace(/\$$/, '')
    const asked = conditions.map((condition) => `(?=${withinArgs(condition)})`).join('')
    const excepted = rule.except
      .map((slug) => `(?![^ ]* /${quoted(slug)}${trailingSlashMatters ? '' : '/?'}$)`)
      .join('')
    const expression = `"^${asked}${excepted}[^ ]* ${path}$"`.replace(/(?<!^)"(?!$)/g, '\\x22')
    const { base, query, fragment } = splitDestination(rule.destination)
    const part = (text: string) => substitutionOf(text, source.numberOf, '$').replace(/"/g, '\\"')
    if (rule.query === 'carry' && query !== '' && rule.queryConflict !== 'both')
      cannot.add('merging', 'Where both have a parameter of one name, both are kept.', rule.pattern)
    const asks = query === '' ? '' : `?${part(query)}`
    const more = rule.query === 'discard' ? '' : query === '' ? '$is_args$args' : '$fides_more'
    const to = `"${part(base)}${asks}${more}${part(fragment)}"`
    const mark = capitalsMatter ? '~' : '~*'
    lines.push(`  if ($fides_ask ${mark} ${expression}) { return ${rule.status} ${to}; }`)
    if (!trailingSlashMatters)
      lines.push(`  if ($fides_ask_slash ${mark} ${expression}) { return ${rule.status} ${to}; }`)
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

function fallbacksOf({ domain }: Outgoing): string[] {
  const lines: string[] = []
  if (domain.rootDestination) lines.push(`  if ($uri = "/") { return 302 ${inQuotes(domain.rootDestination)}; }`)
  if (domain.notFoundDestination)
    lines.push(
      `  if ($uri ${domain.capitalsMatter ? '~' : '~*'} "^/(?:${reservedOf(domain)})$") { return 404; }`,
      `  return 302 ${inQuotes(domain.notFoundDestination)};`,
    )
  return lines
}
