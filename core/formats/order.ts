import { canonicalSlug, type Sameness } from '../address'
import { makeMatcher, quoted, readPattern } from '../patterns'
import type { FileLink, FileRule, Reading } from './format'

/** What a reading comes to on our side: links are asked before rules, and each address has one link. */
export interface Ordered {
  links: FileLink[]
  rules: FileRule[]
  /** Lines that say what an earlier one says already, with that line. */
  repeated: { link: FileLink; of: FileLink }[]
  /** Lines that no address reaches, or that an earlier one contradicts. */
  hidden: { link: FileLink; line: number; sentence: string }[]
}

/**
 * Puts a reading into our order without changing what is answered. A file’s program asks its lines in their order;
 * here links come first. So a link behind a rule that takes its address is not reached, and one behind a rule that
 * takes it under a condition becomes a rule itself. Of two lines for one address the first counts.
 */
export function inOurOrder(
  { entries }: Reading,
  hostOf: (host: string | null) => string,
  samenessOf: (host: string) => Sameness,
): Ordered {
  const ordered: Ordered = { links: [], rules: [], repeated: [], hidden: [] }
  const first = new Map<string, FileLink>()
  const before = new Map<string, { rule: FileRule; match(canonical: string): boolean }[]>()
  for (const entry of entries) {
    if (entry.kind === 'rule') {
      const { rule } = entry
      const host = hostOf(rule.host)
      const sameness = samenessOf(host)
      const reading = readPattern(rule.syntax, rule.pattern, !sameness.capitalsMatter)
      ordered.rules.push(rule)
      if (!reading.ok) continue
      const matcher = makeMatcher(reading.pattern, sameness.trailingSlashMatters)
      const list = before.get(host) ?? []
      before.set(host, [...list, { rule, match: (canonical) => matcher.match(canonical) !== undefined }])
      continue
    }
    const { link } = entry
    if (link.slug === null) {
      ordered.links.push(link)
      continue
    }
    const host = hostOf(link.host)
    const canonical = canonicalSlug(link.slug, samenessOf(host))
    if (canonical === undefined) {
      ordered.links.push(link)
      continue
    }
    const key = `${host}/${canonical}`
    const other = first.get(key)
    if (other) {
      if (sameAnswer(other, link)) ordered.repeated.push({ link, of: other })
      else
        ordered.hidden.push({
          link,
          line: other.line,
          sentence: `Line ${other.line} leads the same address elsewhere, and comes first.`,
        })
      continue
    }
    const takers = (before.get(host) ?? []).filter(({ match }) => match(canonical))
    const always = takers.find(({ rule }) => rule.condition.length === 0)
    if (always) {
      ordered.hidden.push({
        link,
        line: always.rule.line,
        sentence: `Line ${always.rule.line} takes this address before it.`,
      })
      continue
    }
    first.set(key, link)
    if (takers.length > 0 && link.destination !== null) {
      const { file, line, column, status, query, queryConflict, destination } = link
      ordered.rules.push({
        file,
        line,
        column,
        status,
        query,
        queryConflict,
        host: link.host,
        syntax: 'expression',
        pattern: quoted('/' + canonical),
        destination: destination.replace(/[{}]/g, encodeURIComponent),
        condition: [],
      })
    } else ordered.links.push(link)
  }
  return ordered
}

const sameAnswer = (a: FileLink, b: FileLink) =>
  a.destination === b.destination && a.status === b.status && (a.query ?? 'discard') === (b.query ?? 'discard')
