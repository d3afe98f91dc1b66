import { removeDotSegments } from '../../../address'
import { parseNginx, type Statement } from '../../nginx/parse'
import type { Written } from '../outgoing'
import { asOctets, partsOfTarget, trialExpression, type Trial, type TrialAnswer } from './octets'

interface TrialMap {
  source: string
  exact: Map<string, string>
  expressions: { expression: RegExp; value: string }[]
}

/**
 * What nginx would answer with the two files written for it: `geo`, `map`, `if`, `set`, `return` and the two kinds of
 * location they hold (nginx documentation, ngx_http_map_module, ngx_http_rewrite_module, ngx_http_core_module).
 */
export function trialNginx({ files }: Written): Trial {
  const [http = [], server = []] = files.map((file) => parseNginx(file).statements)
  const constants = new Map<string, string>()
  const maps = new Map<string, TrialMap>()
  for (const { name, args, block = [] } of http) {
    if (name === 'geo') constants.set(bare(args[0]!), block[0]?.args[0] ?? '')
    if (name === 'map') maps.set(bare(args[1]!), mapOf(args[0]!, block))
  }
  const exact = new Map<string, Statement[]>()
  let rest: Statement[] = []
  for (const { name, args, block = [] } of server) {
    if (name !== 'location') continue
    if (args[0] === '=') exact.set(asOctets(unquoted(args[1]!)), block)
    else rest = block
  }
  const first = server.filter(({ name }) => name === 'if')
  return (target) => {
    const parts = partsOfTarget(target)
    if (!parts) return { status: 400, location: null }
    const path = removeDotSegments(parts.path)
    const variables = new Map([
      ['uri', path],
      ['args', parts.args],
      ['is_args', parts.args === '' ? '' : '?'],
      ...constants,
    ])
    const scope: Scope = { variables, maps }
    return (
      run(first, scope) ??
      run(exact.get(path) ?? rest, scope) ??
      ({ status: 404, location: null } satisfies TrialAnswer)
    )
  }
}

const bare = (variable: string) => variable.replace(/[${}]/g, '')
/** In quotes a backslash keeps a quote; the parser leaves the other escapes of an expression alone. */
const unquoted = (text: string) => text.replace(/\\"/g, '"')

function mapOf(source: string, block: readonly Statement[]): TrialMap {
  const map: TrialMap = { source: bare(source), exact: new Map(), expressions: [] }
  let fallback: string | undefined
  for (const { name, args } of block) {
    const [value = ''] = args
    if (name === 'default') fallback = value
    else if (name.startsWith('~')) map.expressions.push({ expression: trialExpression(name.slice(1), false), value })
    else map.exact.set(asOctets(name).toLowerCase(), value)
  }
  if (fallback !== undefined) map.expressions.push({ expression: /^/, value: fallback })
  return map
}

interface Scope {
  variables: Map<string, string>
  maps: ReadonlyMap<string, TrialMap>
}

/** A variable’s value; of a map what it gives for its source, with captures by name as variables. */
function read(name: string, scope: Scope): string {
  const { variables, maps } = scope
  const known = variables.get(name)
  const map = maps.get(name)
  if (known !== undefined || !map) return known ?? ''
  const asked = read(map.source, scope)
  const exact = map.exact.get(asked.toLowerCase())
  if (exact !== undefined) return expand(exact, scope)
  for (const { expression, value } of map.expressions) {
    const match = expression.exec(asked)
    if (!match) continue
    for (const [group, text] of Object.entries(match.groups ?? {})) variables.set(group, text)
    return expand(value, scope)
  }
  return ''
}

const expand = (text: string, scope: Scope): string =>
  text.replace(/\$\{(\w+)\}|\$(\w+)/g, (_, braced: string | undefined, plain: string) => read(braced ?? plain, scope))

function run(statements: readonly Statement[], scope: Scope): TrialAnswer | undefined {
  for (const { name, args, block = [] } of statements) {
    if (name === 'set') scope.variables.set(bare(args[0]!), expand(args[1]!, scope))
    if (name === 'return')
      return { status: Number(args[0]), location: args[1] === undefined ? null : expand(args[1], scope) }
    if (name === 'if' && holds(args, scope)) {
      const answer = run(block, scope)
      if (answer) return answer
    }
  }
  return undefined
}

/** A condition: a variable that is neither empty nor 0, one that equals a text, or one an expression takes. */
function holds(args: readonly string[], scope: Scope): boolean {
  const words = args.map((word, at) => (at === 0 ? word.replace(/^\(/, '') : word)).filter((word) => word !== ')')
  const value = read(bare(words[0]!.replace(/\)$/, '')), scope)
  if (words.length === 1) return value !== '' && value !== '0'
  if (words[1] === '=') return value === words[2]
  const match = trialExpression(words[2]!, words[1] === '~*').exec(value)
  for (const [at, text] of (match ?? []).entries()) scope.variables.set(String(at), text ?? '')
  return match !== null
}
