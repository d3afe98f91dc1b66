import { RE2JS } from 're2js'
import type { Pattern } from './node'
import { re2Source } from './re2-source'

export interface Matcher {
  /** The captures of a canonical slug by name, or `undefined` where the pattern does not take it. In linear time. */
  match(canonical: string): ((name: string) => string | undefined) | undefined
}

/** Makes what the gateway matches with: RE2's algorithm, after a look at the text every match begins with. */
export function makeMatcher(pattern: Pattern, trailingSlashMatters: boolean): Matcher {
  const expression = RE2JS.compile(re2Source(pattern.node))
  const { prefix } = pattern
  return {
    match(canonical) {
      const path = '/' + canonical
      // The path may be spelled with a slash more where that is ignored; then it begins with the prefix but for that
      // slash.
      const spellable = !trailingSlashMatters && !path.endsWith('/')
      if (!path.startsWith(prefix) && !(spellable && path + '/' === prefix)) return undefined
      let matcher = expression.matcher(path)
      if (!matcher.matches()) {
        if (!spellable) return undefined
        matcher = expression.matcher(path + '/')
        if (!matcher.matches()) return undefined
      }
      return (name) => matcher.group(pattern.captures.get(name)!) ?? undefined
    },
  }
}
