import { isDeepStrictEqual } from 'node:util'
import { Op } from 'sequelize'
import { showHost } from '../../../core/address'
import type { ComparedSubject, Comparison, CompareQuery } from '../../../core/schemas'
import type { Database } from '../../database/open'
import { fieldProblem } from '../problem'
import { statesAtBoth } from './past-states'

type State = Record<string, unknown>
const MAX_TOLD = 500
/** More is no question for a page. */
const MAX_ENTRIES = 50_000

/** What differs in the register between two moments of the past, whoever changed it and however often. */
export async function compareMoments(db: Database, query: CompareQuery): Promise<Comparison> {
  const [from, to] = [new Date(query.from), new Date(query.to)]
  if (to.getTime() > Date.now()) throw fieldProblem('to', 'Enter a date and time in the past.')
  if (from > to) throw fieldProblem('from', 'The first moment must not come after the second.')
  const entries = await db.LedgerEntry.count({ where: { at: { [Op.gt]: from } } })
  if (entries > MAX_ENTRIES)
    throw fieldProblem('from', `Over ${MAX_ENTRIES.toLocaleString('en')} changes were made since; choose a later one.`)
  const { before, after } = await statesAtBoth(db, from, to)
  const hosts = new Map(
    (await db.Domain.findAll({ attributes: ['id', 'host'] })).map(({ id, host }) => [id, showHost(host)]),
  )
  const found: ComparedSubject[] = []
  for (const key of new Set([...before.keys(), ...after.keys()])) {
    const [kind, number] = key.split(' ') as [ComparedSubject['kind'], string]
    const [was, is] = [before.get(key) ?? null, after.get(key) ?? null]
    if (!concerns(query, kind, Number(number), was, is)) continue
    const fields = differing(was, is)
    if (fields.length === 0) continue
    const only = (state: State | null) =>
      state && Object.fromEntries(fields.map((field) => [field, state[field] ?? null]))
    found.push({
      kind,
      id: Number(number),
      label: labelOf(kind, (is ?? was)!, hosts),
      before: only(was),
      after: only(is),
    })
  }
  found.sort((a, b) => a.kind.localeCompare(b.kind) || a.label.localeCompare(b.label) || a.id - b.id)
  return { from: from.toISOString(), to: to.toISOString(), total: found.length, items: found.slice(0, MAX_TOLD) }
}

function concerns(
  { link, domain }: CompareQuery,
  kind: string,
  id: number,
  was: State | null,
  is: State | null,
): boolean {
  if (link !== undefined) return kind === 'link' && (id === link || was?.forwardsTo === link || is?.forwardsTo === link)
  if (domain === undefined) return true
  return kind === 'domain' ? id === domain : was?.domainId === domain || is?.domainId === domain
}

/** Where a state of before the ledger knew a field lacks it, nothing is told of it. */
const differing = (was: State | null, is: State | null): string[] =>
  [...new Set([...Object.keys(was ?? {}), ...Object.keys(is ?? {})])].filter(
    (field) =>
      (was === null || is === null || (field in was && field in is)) &&
      !isDeepStrictEqual(was?.[field] ?? null, is?.[field] ?? null),
  )

function labelOf(kind: ComparedSubject['kind'], state: State, hosts: ReadonlyMap<number, string>): string {
  if (kind === 'domain') return showHost(String(state.host ?? ''))
  const host = hosts.get(Number(state.domainId)) ?? ''
  return kind === 'link' ? `${host}/${String(state.slug ?? '')}` : `${host} ${String(state.pattern ?? '')}`
}

/** A subject as it stood at a moment; `undefined` where it was not there. */
export async function stateAt(db: Database, kind: 'link' | 'domain', id: number, at: Date): Promise<State | undefined> {
  const { after } = await statesAtBoth(db, at, at, [{ kind, id }])
  return after.get(`${kind} ${id}`)
}
