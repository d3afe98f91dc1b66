import { removeDotSegments } from '../../../address'
import { directivesOf, type Directive } from '../../apache/directives'
import { readFlags } from '../../apache/rewrite-flags'
import type { Written } from '../outgoing'
import { asOctets, partsOfTarget, trialExpression, type Trial } from './octets'

interface Condition {
  test: string
  expression: RegExp
  negated: boolean
  orNext: boolean
}

interface Rule {
  expression: RegExp
  to: string
  flags: ReadonlyMap<string, string>
  conditions: Condition[]
}

/** Patterns that take one path, with or without a slash behind it: these are found at once. */
const LITERAL = /^\^((?:[^\\^$.*+?()[\]{}|]|\\[^\w])*)(\/\?)?\$$/

/**
 * What Apache would answer with the file written for it: `RewriteRule` and `RewriteCond` with the flags and variables
 * it holds (Apache 2.4, mod_rewrite).
 */
export function trialApache({ files }: Written): Trial {
  const rules = rulesOf([...directivesOf(files[0]!, Infinity)])
  const literal = new Map<string, number[]>()
  const others: number[] = []
  for (const [at, { expression, conditions, flags }] of rules.entries()) {
    const text = LITERAL.exec(expression.source.replaceAll('\\/', '/'))
    if (!text || conditions.some(({ test }) => test !== '%{QUERY_STRING}')) {
      others.push(at)
      continue
    }
    const path = text[1]!.replace(/\\(.)/g, '$1')
    for (const one of text[2] ? [path, `${path}/`] : [path]) {
      const key = flags.has('NC') ? one.toLowerCase() : one
      literal.set(key, [...(literal.get(key) ?? []), at])
    }
  }
  return (target) => {
    const parts = partsOfTarget(target)
    if (!parts) return { status: 400, location: null }
    const path = removeDotSegments(parts.path)
    const candidates = new Set([...(literal.get(path) ?? []), ...(literal.get(path.toLowerCase()) ?? []), ...others])
    const scope = { path, args: parts.args, environment: new Map<string, string>() }
    for (const at of [...candidates].sort((a, b) => a - b)) {
      const answer = put(rules[at]!, scope)
      if (answer) return answer
    }
    return { status: 404, location: null }
  }
}

function rulesOf(directives: readonly Directive[]): Rule[] {
  const rules: Rule[] = []
  let conditions: Condition[] = []
  for (const { name, args } of directives) {
    const [first = '', second = '', third = ''] = args
    const flags = readFlags(third) ?? new Map<string, string>()
    if (name === 'rewritecond') {
      const negated = second.startsWith('!')
      const expression = trialExpression(asOctets(negated ? second.slice(1) : second), flags.has('NC'))
      conditions.push({ test: first, expression, negated, orNext: flags.has('OR') })
    } else if (name === 'rewriterule') {
      rules.push({ expression: trialExpression(asOctets(first), flags.has('NC')), to: second, flags, conditions })
      conditions = []
    }
  }
  return rules
}

interface Scope {
  path: string
  args: string
  environment: Map<string, string>
}

const valueOf = (test: string, { path, args, environment }: Scope): string =>
  test
    .replace('%{QUERY_STRING}', () => args)
    .replace('%{REQUEST_URI}', () => path)
    .replace(/%\{ENV:(\w+)\}/, (_, name: string) => environment.get(name) ?? '')

function put({ expression, to, flags, conditions }: Rule, scope: Scope) {
  const match = expression.exec(scope.path)
  if (!match) return undefined
  let caught: readonly (string | undefined)[] = []
  let isHeld = false
  for (const { test, expression: asked, negated, orNext } of conditions) {
    // Of several of which one is enough, those behind one that holds are not asked.
    if (!isHeld) {
      const found = asked.exec(valueOf(test, scope))
      isHeld = (found !== null) !== negated
      if (!isHeld && !orNext) return undefined
      // What the last condition that fitted captured counts.
      if (found) caught = found
    }
    if (!orNext) isHeld = false
  }
  const set = flags.get('E')
  if (set !== undefined) {
    const [name = '', value = ''] = set.split(/:(.*)/s)
    const text = value
      .replace('${fides-lower:$1}', () => (match[1] ?? '').toLowerCase())
      .replace('$1', () => match[1] ?? '')
    scope.environment.set(name, text)
  }
  if (flags.has('G')) return { status: 410, location: null }
  if (to === '-') return flags.has('R') ? { status: Number(flags.get('R')), location: null } : undefined
  const written = to.replace(/\\(.)|\$(\d)|%(\d)/g, (_, kept: string | undefined, own?: string, condition?: string) =>
    kept !== undefined ? kept : ((own !== undefined ? match[Number(own)] : caught[Number(condition)]) ?? ''),
  )
  return { status: Number(flags.get('R')), location: withQuery(written, flags, scope.args) }
}

/** The visitor’s query goes along unless the target has one, or the flags say otherwise. */
function withQuery(to: string, flags: ReadonlyMap<string, string>, args: string): string {
  if (flags.has('QSD') || args === '') return to
  if (!to.includes('?')) return `${to}?${args}`
  return flags.has('QSA') ? `${to}&${args}` : to
}
