/** A sign that a path was asked for by a program that looks for something else. */
export interface NoiseSign {
  pattern: RegExp
  /** Why it is no visitor, in words. */
  why: string
}

const oneOf = (...parts: string[]): RegExp => new RegExp(parts.join('|'), 'i')
/** Words that stand for whole parts of a path, between slashes. */
const parts = (words: string): RegExp => oneOf(`(?:^|/)(?:${words.split(' ').join('|')})(?:/|$)`)

/**
 * Paths of programs nobody runs here, asked for at any address by scanners (common practice, no source). One list, each
 * with why it is there. A path that is an address of ours never comes here.
 */
export const NOISE_SIGNS: readonly NoiseSign[] = [
  { pattern: /(?:^|\/)\.(?!well-known)[^/]/, why: 'hidden file (settings or version control)' },
  {
    pattern: /\.(?:php\d?|phtml|aspx?|ashx|asmx|jspx?|jsf|cgi|pl|cfm|do|action)(?:[/.~]|$)/i,
    why: 'a script of a kind no short address is',
  },
  {
    pattern:
      /\.(?:sql|bak|old|orig|swp|save|tar|tgz|gz|zip|rar|7z|dump|log|ini|conf|cfg|env|ya?ml|pem|key|crt|p12)~?$/i,
    why: 'a copy, an archive or a settings file left lying about',
  },
  {
    pattern: /(?:^|\/)wp-(?:admin|login|content|includes|json|config|cron)\b/i,
    why: 'a content system nobody runs here',
  },
  {
    pattern: /^(?:wordpress|wp|joomla|drupal|typo3|magento|administrator|typo3conf)(?:\/|$)/i,
    why: 'a content system nobody runs here',
  },
  {
    pattern: /(?:^|\/)(?:phpmyadmin|pma|myadmin|adminer|mysqladmin|dbadmin|pgadmin|sqladmin)[^/]*(?:\/|$)/i,
    why: 'a console of a database',
  },
  {
    pattern: parts(
      'cgi-bin vendor node_modules solr actuator jenkins struts telescope _ignition console manager/html hnap1 ' +
        'boaform geoserver owa autodiscover ecp druid nacos jmx-console server-status',
    ),
    why: 'a console or a part of a program nobody runs here',
  },
  { pattern: /(?:\.\.|%2e%2e|%252e)(?:\/|%2f|%5c|\\)/i, why: 'a way up out of the folder' },
  { pattern: /(?:etc\/passwd|proc\/self|win\.ini|boot\.ini|web-inf)/i, why: 'a file of the operating system' },
  {
    pattern: oneOf(
      '(?:^|[^a-z])union(?:\\s|\\+|%20)+select',
      '<script|%3cscript',
      '\\$\\{jndi:|%24%7bjndi',
      'sleep\\(',
      '\\bwget\\b|\\bcurl\\b.*http',
      ';\\s*(?:id|cat|ls)\\b',
    ),
    why: 'an attempt to inject something',
  },
  { pattern: /^https?:(?:\/|%2f)/i, why: 'somebody tries this server as a proxy' },
  {
    pattern: oneOf(
      '(?:^|/)apple-touch-icon[^/]*\\.png$',
      '(?:^|/)(?:browserconfig|crossdomain|sitemap[^/]*)\\.xml(?:\\.gz)?$',
      '(?:^|/)(?:manifest\\.json|manifest\\.webmanifest)$',
      '(?:^|/)(?:ads|app-ads|humans|security)\\.txt$',
    ),
    why: 'automatic request by browsers and search engines',
  },
  {
    pattern: oneOf(
      '(?:^|/)(?:remote/(?:login|fgt_lang)|sslvpn|dana-na|global-protect|\\+cscoe\\+|vpn/index|cgi/login)',
      '(?:^|/)(?:api/jsonws|api/v1/pods|evox/about|sdk/webLanguage|nmaplowercheck)',
    ),
    why: 'a door of network equipment',
  },
]

/** Why a path is noise, in words; `null` where nothing speaks for that. */
export function noiseOf(path: string): string | null {
  for (const { pattern, why } of NOISE_SIGNS) if (pattern.test(path)) return why
  return null
}

/** One visitor of one day who asks for so many paths that found nothing, most unrelated, looks for holes. */
export const SCATTER_PATHS = 8

/**
 * Whether the paths one day token asked for in vain are a scan: many, and of many first parts or kinds. A visitor who
 * tries one address again and again stays a visitor.
 */
export function isScattered(paths: Iterable<string>): boolean {
  const kinds = new Set<string>()
  let count = 0
  for (const path of paths) {
    count++
    kinds.add(
      path
        .toLowerCase()
        .replace(/[0-9]+/g, '#')
        .slice(0, 4),
    )
    if (kinds.size >= SCATTER_PATHS) return true
  }
  return count >= SCATTER_PATHS * 4
}
