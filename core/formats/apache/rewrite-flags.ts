/** Flags of a rewriting rule that are carried over. */
export const KNOWN_FLAGS = new Set(['R', 'L', 'NC', 'QSA', 'QSD', 'NE', 'G', 'F', 'END', 'DPI', 'E', 'CO'])
/** Their long names (Apache 2.4, mod_rewrite, RewriteRule Directive). */
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
  skip: 'S',
  chain: 'C',
  env: 'E',
  cookie: 'CO',
}

/** Flags in brackets, by their short names. */
export function readFlags(text: string): Map<string, string> | undefined {
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
