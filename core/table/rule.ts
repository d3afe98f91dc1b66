import { canonicalSlug, toWire, type Sameness } from '../address'
import { compileCondition, type Condition, type Visitor } from '../conditions'
import { expand, makeMatcher, readPattern, readTemplate } from '../patterns'
import type { RuleRow } from '../rows/rule'
import { Entry, flagsOf } from './entry'

/** A compiled rule; asked, in order, after the exact links. */
export interface CompiledRule {
  row: RuleRow
  /** How its domain read addresses when it was compiled. */
  sameness: string
  /** Text that every path it takes begins with. */
  prefix: string
  /** Whether it takes an address of a visitor of whom nothing is known. */
  plain: boolean
  /** Request fields its condition looks at. */
  varies: readonly string[]
  /** Whether the address is one of those it is for, whoever asks. */
  fits(canonical: string): boolean
  /**
   * The entry for a canonical slug and visitor, or `undefined` where the rule does not take it. `rivals` are the
   * conditions of all rules the address fits.
   */
  take(canonical: string, visitor: Visitor, rivals: () => readonly Condition[]): Entry | undefined
}

/** A domain's way of reading addresses, to be compared. */
export const samenessOf = ({ capitalsMatter, trailingSlashMatters }: Sameness): string =>
  `${capitalsMatter} ${trailingSlashMatters}`

/** The canonical slugs of the addresses a rule leaves alone, where its domain reads addresses so. */
export const exceptedSlugs = (except: readonly string[], sameness: Sameness): string[] =>
  except.map((slug) => canonicalSlug(slug, sameness) ?? slug)

/**
 * Compiles a rule for a domain that reads its addresses so; `undefined` where its pattern or destination cannot be
 * read.
 */
export function compileRule(row: RuleRow, sameness: Sameness): CompiledRule | undefined {
  const reading = readPattern(row.syntax, row.pattern, !sameness.capitalsMatter)
  if (!reading.ok) return undefined
  const template = readTemplate(row.destination, reading.pattern.captures)
  if (!template.ok) return undefined
  const matcher = makeMatcher(reading.pattern, sameness.trailingSlashMatters)
  const condition = compileCondition(row.condition)
  const except = new Set(exceptedSlugs(row.except, sameness))
  const flags = flagsOf(row, 'live')
  return {
    row,
    sameness: samenessOf(sameness),
    prefix: reading.pattern.prefix,
    plain: condition.plain,
    varies: condition.varies,
    fits: (canonical) => !except.has(canonical) && matcher.match(canonical) !== undefined,
    take(canonical, visitor, rivals) {
      const captured = matcher.match(canonical)
      if (!captured || except.has(canonical) || !condition.holds(visitor, rivals)) return undefined
      return new Entry(0, toWire(expand(template.template, captured)), flags, null)
    },
  }
}
