import { quoted } from '../../patterns'
import type { RuleRow } from '../../rows'

/**
 * What a rule asks of the query as expressions over it, all of which must match; `undefined` where servers cannot be
 * asked that: languages, and exact queries of several parameters, which may come in any order.
 */
export function conditionsOf({ condition }: RuleRow): string[] | undefined {
  const expressions: string[] = []
  for (const part of condition) {
    if (part.kind !== 'query') return undefined
    const parameters = part.text.split('&').filter(Boolean)
    const whole = parameters.map((parameter) =>
      parameter.includes('=') ? quoted(parameter) : `${quoted(parameter)}(?:=[^&]*)?`,
    )
    if (part.mode === 'exactly') {
      if (parameters.length > 1) return undefined
      expressions.push(`^${whole[0] ?? ''}$`)
    } else for (const one of whole) expressions.push(`(?:^|&)${one}(?:&|$)`)
  }
  return expressions
}
