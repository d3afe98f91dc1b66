import { toWire, type Sameness } from '../../../address'
import { exampleVisitor } from '../../../conditions'
import { compileFamily, readPattern, witnesses } from '../../../patterns'
import type { RuleRow } from '../../../rows'
import { answer } from '../../../table'
import { CannotList, type Outgoing, type Written } from '../outgoing'
import { trialApache } from './apache'
import { trialNginx } from './nginx'
import type { Trial, TrialAnswer } from './octets'

export const TRIALS: Partial<Record<string, (written: Written) => Trial>> = { apache: trialApache, nginx: trialNginx }

/** So many links and rules are asked with their neighbours; of more, every so many. */
const MAX_ASKED = 400

type Answered = Pick<TrialAnswer, 'status' | 'location'>

/**
 * Asks a written configuration the register’s addresses and their neighbours, and adds to what it cannot say each
 * address that it answers otherwise than the gateway, but for rules that are listed as left out.
 */
export function withDifferences(kind: string, outgoing: Outgoing, written: Written): Written {
  const trial = TRIALS[kind]?.(written)
  if (!trial) return written
  const cannot = new CannotList()
  const { domain, rules, table, at } = outgoing
  const leftOut = new Set(written.cannot.find(({ code }) => code === 'conditions')?.subjects)
  const foldsCaptures = written.cannot.some(({ code }) => code === 'capitals')
  const byId = new Map(rules.map((rule) => [rule.id, rule]))
  for (const target of askedOf(outgoing)) {
    const ours = answer(table, { method: 'GET', host: domain.host, target }, at)
    const rule = byId.get(ours.ruleId)
    if (rule && leftOut.has(rule.pattern)) continue
    const theirs = trial(target)
    if (sameAnswer(ours, theirs, foldsCaptures && rule !== undefined)) continue
    cannot.add(
      'otherwise',
      'The server answers these addresses otherwise than Fides does.',
      `${target}: ${inWords(theirs)} instead of ${inWords(ours)}`.slice(0, 300),
    )
  }
  return { ...written, cannot: [...written.cannot, ...cannot.all] }
}

const inWords = ({ status, location }: Answered) => location ?? String(status)

/** Whether two answers are equal; answers with a page of their own differ only if one says that the address is gone. */
function sameAnswer(a: Answered, b: Answered, fold: boolean): boolean {
  if (a.location === null || b.location === null)
    return a.location === b.location && (a.status === 410) === (b.status === 410)
  const plain = (text: string) => (fold ? text.toLowerCase() : text)
  return a.status === b.status && plain(a.location) === plain(b.location)
}

/** At most `MAX_ASKED` of a list, from all over it. */
const someOf = <Item>(items: readonly Item[]): Item[] => {
  const step = Math.ceil(items.length / MAX_ASKED)
  return items.filter((_, index) => index % step === 0)
}

/**
 * The register’s addresses, and how people mistype, extend and ask them. Of a part of a register only its own
 * addresses: a neighbour may be another link that is not exported.
 */
function* askedOf({ links, rules, domain, whole }: Outgoing): Generator<string> {
  for (const { canonical } of someOf(links)) {
    const path = `/${toWire(canonical)}`
    yield* [path, `${path}?a=1`, `${path}?id=5&a=1`]
    if (whole) yield* [`${path}/`, `${path}/more`, `${path}x`, path.slice(0, -1), path.toUpperCase()]
  }
  for (const rule of someOf(rules)) {
    const query = exampleVisitor(rule.condition).query
    for (const path of examplesOf(rule, domain))
      yield* [path, `${path}x`, `${path}?a=1`, ...(query ? [`${path}?${query}`, `${path}?${query}&a=1`] : [])]
  }
  if (whole) yield* ['/', '/no-such-address', '/robots.txt']
}

/** Paths that a rule takes, the shortest first. */
function examplesOf({ syntax, pattern, except }: RuleRow, sameness: Sameness): string[] {
  const reading = readPattern(syntax, pattern, !sameness.capitalsMatter)
  const compiled = reading.ok ? compileFamily([{ pattern: reading.pattern, except }], sameness) : undefined
  if (!compiled?.ok) return []
  // Captured characters that servers write differently are reported for all rules.
  return witnesses(compiled.family, [0], [], 4)
    .map((slug) => `/${toWire(slug)}`)
    .filter((path) => /^[\w/.~-]+$/.test(path))
}
