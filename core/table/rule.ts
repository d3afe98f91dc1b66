import { toWire, type QueryConflict, type QueryPolicy, type Sameness } from '../address'
import {
  expand,
  makeMatcher,
  readCondition,
  readPattern,
  readTemplate,
  satisfies,
  type QueryMode,
  type Syntax,
} from '../patterns'
import { Entry, flagsOf } from './entry'
import type { RedirectStatus } from './rows'

/** A redirect rule for a family of addresses, as the table needs it. */
export interface RuleRow {
  id: number
  domainId: number
  /** Rules are asked in ascending order. */
  position: number
  syntax: Syntax
  pattern: string
  /** A URI Template over the pattern's captures. */
  destination: string
  status: RedirectStatus
  query: QueryPolicy
  queryConflict: QueryConflict
  queryMode: QueryMode
  /** What the rule asks of the query, like `line=4&lang`. */
  queryText: string
  /** Canonical slugs it leaves alone. */
  except: readonly string[]
}

/** A compiled rule; asked, in order, after the exact links. */
export interface CompiledRule {
  row: RuleRow
  /** How its domain read addresses when it was compiled. */
  sameness: string
  /** Text that every path it takes begins with. */
  prefix: string
  /** Whether it takes an address that is asked for without a query. */
  plain: boolean
  /** The entry for a canonical slug and query, or `undefined` where the rule does not take it. */
  take(canonical: string, query: string): Entry | undefined
}

/** A domain's way of reading addresses, to be compared. */
export const samenessOf = ({ capitalsMatter, trailingSlashMatters }: Sameness): string =>
  `${capitalsMatter} ${trailingSlashMatters}`

/** Compiles a rule for a domain that reads its addresses so; `undefined` where its pattern or destination cannot be read. */
export function compileRule(row: RuleRow, sameness: Sameness): CompiledRule | undefined {
  const reading = readPattern(row.syntax, row.pattern, !sameness.capitalsMatter)
  if (!reading.ok) return undefined
  const template = readTemplate(row.destination, reading.pattern.captures)
  if (!template.ok) return undefined
  const matcher = makeMatcher(reading.pattern, sameness.trailingSlashMatters)
  const condition = readCondition(row.queryMode, row.queryText)
  const except = new Set(row.except)
  const flags = flagsOf(row.status, row.query, row.queryConflict, 'live')
  return {
    row,
    sameness: samenessOf(sameness),
    prefix: reading.pattern.prefix,
    plain: satisfies('', condition),
    take(canonical, query) {
      const captured = matcher.match(canonical)
      if (!captured || !satisfies(query, condition) || except.has(canonical)) return undefined
      return new Entry(0, toWire(expand(template.template, captured)), flags, null)
    },
  }
}
