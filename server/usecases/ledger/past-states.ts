import { QueryTypes } from 'sequelize'
import { subjectKey, takeBack, type PastEntry, type States } from '../../../core/ledger'
import { DOMAIN_FIELDS, LINK_FIELDS, RULE_FIELDS, namesFor, columnOf } from '../../../core/rows'
import { fromJson } from '../../database/json'
import type { Database } from '../../database/open'

type State = Record<string, unknown>
const PAGE = 2000

const KINDS = { link: LINK_FIELDS, rule: RULE_FIELDS, domain: DOMAIN_FIELDS } as const
type Kind = keyof typeof KINDS

/** Reads rows of a kind as the ledger keeps them; with `ids` only those. */
async function* readStates(
  db: Database,
  kind: Kind,
  ids?: readonly number[],
): AsyncGenerator<[id: number, state: State]> {
  const fields = KINDS[kind]
  const all = fields as unknown as Record<string, { type: { as: string }; read(value: unknown): unknown }>
  const names = [...namesFor(fields, 'ledger'), ...(kind === 'domain' ? ['host'] : [])] as string[]
  const columns = ['id', ...names.map((name) => columnOf(fields, name))].join(', ')
  for (let after = 0; ;) {
    const rows = await db.sequelize.query<Record<string, unknown>>(
      `SELECT ${columns} FROM ${kind} WHERE id > :after ${ids ? 'AND id IN (:ids)' : ''} ORDER BY id LIMIT ${PAGE}`,
      { replacements: { after, ids: [...(ids ?? []), 0] }, type: QueryTypes.SELECT },
    )
    if (rows.length === 0) return
    after = Number(rows.at(-1)!.id)
    for (const row of rows)
      yield [
        Number(row.id),
        Object.fromEntries(
          names.map((name) => {
            const value = row[columnOf(fields, name)] ?? null
            const { type, read } = all[name]!
            return [
              name,
              value === null ? null : type.as === 'moment' ? new Date(value as Date).toISOString() : read(value),
            ]
          }),
        ),
      ]
  }
}

interface DatedEntry extends PastEntry {
  /** From when on it counted. */
  liveAt: Date
}

/** Entries about what a table is made of that counted only after a moment, the newest first. */
async function readEntriesAfter(db: Database, at: Date): Promise<DatedEntry[]> {
  const rows = await db.sequelize.query<{
    id: number
    action: string
    subject_kind: string
    subject_id: number
    before_state: unknown
    after_state: unknown
    live_at: Date
  }>(
    `SELECT id, action, subject_kind, subject_id, before_state, after_state, COALESCE(live_at, at) AS live_at
     FROM ledger_entry
     WHERE COALESCE(live_at, at) > :at AND revision IS NOT NULL AND subject_kind IN ('link', 'links', 'rule', 'domain')
     ORDER BY revision DESC`,
    { replacements: { at }, type: QueryTypes.SELECT },
  )
  const several = rows.filter(({ subject_kind }) => subject_kind === 'links').map(({ id }) => Number(id))
  const parts = await readPartsOf(db, several)
  return rows.map((row) => {
    const own = parts.get(Number(row.id))
    const liveAt = new Date(row.live_at)
    return own
      ? { kind: 'links', subjectId: 0, before: { links: own.before }, after: { links: own.after }, liveAt }
      : {
          liveAt,
          kind: row.subject_kind,
          subjectId: Number(row.subject_id),
          ...(tellsOfKeys(row)
            ? { before: null, after: null }
            : {
                before: fromJson<State | null>(row.before_state),
                after: fromJson<State | null>(row.after_state),
              }),
        }
  })
}

/**
 * Whether an entry about a domain tells of its key, zone or records, not of it: it has one state only, and that names
 * no host, as that of a domain which was removed or given back does.
 */
const tellsOfKeys = (row: { subject_kind: string; action: string; before_state: unknown; after_state: unknown }) => {
  if (row.subject_kind !== 'domain' || row.action === 'create') return false
  if (row.before_state !== null && row.after_state !== null) return false
  return !('host' in (fromJson<State | null>(row.before_state ?? row.after_state) ?? {}))
}

/** What entries about several links keep of each, by the entry; those that keep it within themselves are left out. */
async function readPartsOf(
  db: Database,
  entries: readonly number[],
): Promise<Map<number, { before: Record<string, State | null>; after: Record<string, State | null> }>> {
  const parts = new Map<number, { before: Record<string, State | null>; after: Record<string, State | null> }>()
  if (entries.length === 0) return parts
  const rows = await db.sequelize.query<{
    entry_id: number
    link_id: number
    before_state: unknown
    after_state: unknown
  }>('SELECT * FROM ledger_entry_link WHERE entry_id IN (?) AND before_state IS NOT NULL', {
    replacements: [entries],
    type: QueryTypes.SELECT,
  })
  for (const row of rows) {
    const id = Number(row.entry_id)
    let own = parts.get(id)
    if (!own) parts.set(id, (own = { before: {}, after: {} }))
    own.before[row.link_id] = fromJson<State | null>(row.before_state)
    own.after[row.link_id] = fromJson<State | null>(row.after_state)
  }
  return parts
}

/** The whole register as it stood at a moment: the states of domains, rules and links. */
export async function pastStates(db: Database, at: Date): Promise<States> {
  const states = await readNow(db)
  takeBack(states, await readEntriesAfter(db, at))
  return states
}

/**
 * What of the register matters to one address at a moment: all domains and rules, the links that have the address now,
 * and all that were changed since, one of which may have had it then.
 */
export async function pastStatesAround(
  db: Database,
  at: Date,
  now: readonly { domainId: number; canonical: string }[],
): Promise<States> {
  const entries = await readEntriesAfter(db, at)
  const ids = new Set<number>()
  for (const { kind, subjectId, before } of entries) {
    if (kind === 'link') ids.add(subjectId)
    if (kind === 'links') for (const id of Object.keys((before?.links ?? {}) as object)) ids.add(Number(id))
  }
  if (now.length > 0) {
    const rows = await db.sequelize.query<{ id: number; forwards_to: number | null }>(
      'SELECT id, forwards_to FROM link WHERE (domain_id, canonical) IN (:pairs)',
      {
        replacements: { pairs: now.map(({ domainId, canonical }) => [domainId, canonical]) },
        type: QueryTypes.SELECT,
      },
    )
    for (const { id, forwards_to } of rows) ids.add(Number(id)).add(Number(forwards_to ?? id))
  }
  // What forwarded then leads to a link that may not have changed since.
  for (const { before } of entries) if (typeof before?.forwardsTo === 'number') ids.add(before.forwardsTo)
  const states = await readNow(db, [...ids])
  takeBack(states, entries)
  return states
}

/**
 * What changed after the earlier of two moments, as it stood at either: links, rules and domains; with `only` just
 * those, whether or not they changed.
 */
export async function statesAtBoth(
  db: Database,
  from: Date,
  to: Date,
  only?: readonly { kind: 'link' | 'domain'; id: number }[],
): Promise<{ before: States; after: States }> {
  const entries = await readEntriesAfter(db, from)
  const touched = new Set(only?.map(({ kind, id }) => subjectKey(kind, id)) ?? takeBack(new Map(), entries))
  const links = [...touched].flatMap((key) => (key.startsWith('link ') ? [Number(key.slice(5))] : []))
  const states = await readNow(db, links)
  for (const key of [...states.keys()]) if (!touched.has(key)) states.delete(key)
  takeBack(
    states,
    entries.filter(({ liveAt }) => liveAt > to),
  )
  const after: States = new Map([...states].map(([key, state]) => [key, { ...state }]))
  takeBack(
    states,
    entries.filter(({ liveAt }) => liveAt <= to),
  )
  return { before: states, after }
}

/** States of today; of links those of `links`, or all. */
async function readNow(db: Database, links?: readonly number[]): Promise<States> {
  const states: States = new Map()
  for (const kind of ['domain', 'rule', 'link'] as const)
    for await (const [id, state] of readStates(db, kind, kind === 'link' ? links : undefined))
      states.set(subjectKey(kind, id), state)
  return states
}
