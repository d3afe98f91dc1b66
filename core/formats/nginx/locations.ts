import { quotedPath } from '../regex/whole'
import type { Statement } from './parse'

/**
 * The kinds of a location in the order in which they are asked (nginx documentation, ngx_http_core_module, location).
 */
export type LocationKind = 'exact' | 'first' | 'expression' | 'prefix'

export interface Location {
  kind: LocationKind
  /** The path, or the expression. */
  text: string
  fold: boolean
  statement: Statement
}

/** Reads a location’s head; `undefined` for a named one, which nobody asks for. */
export function readLocation(statement: Statement): Location | undefined {
  const [first = '', second] = statement.args
  if (first.startsWith('@')) return undefined
  if (second === undefined) {
    const glued = /^(=|\^~|~\*|~)(.+)$/s.exec(first)
    if (glued) return locationOf(glued[1]!, glued[2]!, statement)
    return { kind: 'prefix', text: first, fold: false, statement }
  }
  return locationOf(first, second, statement)
}

function locationOf(modifier: string, text: string, statement: Statement): Location {
  const kind = modifier === '=' ? 'exact' : modifier === '^~' ? 'first' : 'expression'
  return { kind, text, fold: modifier === '~*', statement }
}

/**
 * Locations in the order in which they come to be asked: exact ones, then prefixes that shut expressions out, then
 * expressions as they stand, then prefixes, the longest first. A prefix that shuts expressions out while a longer one
 * stands within it cannot be put in any order; such are given apart.
 */
export function inOrder(locations: readonly Location[]): { ordered: Location[]; tangled: Location[] } {
  const of = (kind: LocationKind) => locations.filter((location) => location.kind === kind)
  const byLength = (a: Location, b: Location) => b.text.length - a.text.length
  const prefixes = of('prefix').sort(byLength)
  const first = of('first').sort(byLength)
  const expressions = of('expression')
  const tangled = first.filter(
    ({ text }) =>
      expressions.length > 0 && prefixes.some((inner) => inner.text !== text && inner.text.startsWith(text)),
  )
  const sound = first.filter((location) => !tangled.includes(location))
  const shut = expressions.length === 0
  return {
    ordered: [
      ...of('exact'),
      ...(shut ? [...sound, ...prefixes].sort(byLength) : [...sound, ...expressions, ...prefixes]),
    ],
    tangled,
  }
}

/** The addresses below a prefix, as an expression over whole paths; its one group is all behind the slash. */
export const belowPrefix = (prefix: string): string => `/(${quotedPath(prefix).slice(1)}.*)`
