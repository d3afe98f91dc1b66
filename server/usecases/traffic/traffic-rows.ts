import { QueryTypes } from 'sequelize'
import { markOf, placementOf, showHost } from '../../../core/address'
import type { TrafficQuery, TrafficRow } from '../../../core/schemas'
import type { Database } from '../../database/open'
import { readDomainIds } from './groupings'

/** What was counted of each group; several may be called alike, and are one then. */
export interface Groups {
  visits: Float64Array
  /** None where only sums are known, which do not tell people of groups. */
  people: Float64Array | undefined
  keyOf(group: number): string
  /** No two are called alike, and a group of the same place in another period is the same. */
  distinct: boolean
}

type Bare = Omit<TrafficRow, 'label' | 'title'>

/** Rows of countries, and rows within one, tell of so many people at least; 0 where nothing is hidden. */
export async function fewestPeople(db: Database, query: TrafficQuery): Promise<number> {
  if (query.by !== 'country' && query.country === undefined) return 0
  const organisation = await db.Organisation.findByPk(1, { attributes: ['fewPeople'] })
  return organisation?.fewPeople ?? 5
}

/** What stands for all rows of too few people together. */
const FEW = '(few)'

const toRow = (key: string, visits: number, people: number | null, was: number | null): Bare => ({
  key,
  visits,
  people,
  before: was,
  change: was === null || was === 0 ? null : (visits - was) / was,
})

/** The first rows in the order asked for, and how many there are in all. */
export function firstRows(
  now: Groups | undefined,
  before: Groups | undefined,
  query: TrafficQuery,
  few: number,
): { rows: Bare[]; groups: number } {
  if (!now) return { rows: [], groups: 0 }
  const compared = query.compare !== 'none'
  const by = {
    visits: (row: Bare) => row.visits,
    people: (row: Bare) => row.people ?? row.visits,
    change: (row: Bare) => Math.abs(row.visits - (row.before ?? 0)),
  }[query.sort]
  const inOrder = (a: Bare, b: Bare) => by(b) - by(a) || (a.key < b.key ? -1 : 1)
  if (now.distinct && few <= 1) {
    const { groups, places } = firstPlaces(now, before, query)
    const rows = places.map((group) =>
      toRow(
        now.keyOf(group),
        now.visits[group] ?? 0,
        now.people ? (now.people[group] ?? 0) : null,
        compared ? (before?.visits[group] ?? 0) : null,
      ),
    )
    return { rows: rows.sort(inOrder).slice(0, query.limit), groups }
  }
  const told = byKey(now)
  const was = before && byKey(before)
  const rows = [...new Set([...told.keys(), ...(was?.keys() ?? [])])].map((key) => {
    const { visits, people } = told.get(key) ?? { visits: 0, people: now.people ? 0 : null }
    return toRow(key, visits, people, compared ? (was?.get(key)?.visits ?? 0) : null)
  })
  const shown = few > 1 ? withoutFew(rows, few) : rows
  return { rows: shown.sort(inOrder).slice(0, query.limit), groups: shown.length }
}

/** Of very many groups those that can be among the first rows: with as much as the last of these, or more. */
function firstPlaces(now: Groups, before: Groups | undefined, { sort, limit }: TrafficQuery) {
  const size = Math.max(now.visits.length, before?.visits.length ?? 0)
  const places: number[] = []
  for (let group = 0; group < size; group++)
    if ((now.visits[group] ?? 0) > 0 || (before?.visits[group] ?? 0) > 0) places.push(group)
  const weights = Float64Array.from(places, (group) => {
    const visits = now.visits[group] ?? 0
    if (sort === 'change') return Math.abs(visits - (before?.visits[group] ?? 0))
    return sort === 'people' ? (now.people?.[group] ?? visits) : visits
  })
  const groups = places.length
  if (groups <= limit) return { groups, places }
  const least = weights.slice().sort()[groups - limit]!
  return { groups, places: places.filter((_, at) => weights[at]! >= least) }
}

function byKey({ visits, people, keyOf }: Groups): Map<string, { visits: number; people: number | null }> {
  const groups = new Map<string, { visits: number; people: number | null }>()
  for (let group = 0; group < visits.length; group++) {
    if (visits[group] === 0) continue
    const key = keyOf(group)
    const there = groups.get(key)
    groups.set(key, {
      visits: visits[group]! + (there?.visits ?? 0),
      people: people ? people[group]! + (there?.people ?? 0) : null,
    })
  }
  return groups
}

/** Rows of fewer people than told are put together, so that nobody is made out (k-anonymity, Sweeney 2002). */
function withoutFew(rows: Bare[], few: number): Bare[] {
  const isFew = (row: Bare) => row.key !== '' && (row.people ?? row.visits) < few
  const hidden = rows.filter(isFew)
  if (hidden.length === 0) return rows
  const sum = (read: (row: Bare) => number | null) => hidden.reduce((total, row) => total + (read(row) ?? 0), 0)
  const [visits, was] = [sum((row) => row.visits), rows[0]!.before === null ? null : sum((row) => row.before)]
  return [
    ...rows.filter((row) => !isFew(row)),
    {
      key: FEW,
      visits,
      people: rows[0]!.people === null ? null : sum((row) => row.people),
      before: was,
      change: was === null || was === 0 ? null : (visits - was) / was,
    },
  ]
}

/** Names rows as people know them. */
export async function withLabels(db: Database, query: TrafficQuery, rows: Bare[]): Promise<TrafficRow[]> {
  if (query.by === 'domain') {
    const hosts = new Map([...(await readDomainIds(db))].map(([host, id]) => [String(id), host]))
    return rows.map((row) => ({
      ...row,
      key: hosts.get(row.key) ?? row.key,
      label: hosts.get(row.key) ?? '',
      title: '',
    }))
  }
  if (query.by === 'channel') return withPlacements(db, rows)
  if (query.by !== 'link') return rows.map((row) => ({ ...row, label: row.key, title: '' }))
  const ids = rows.map(({ key }) => Number(key)).filter(Number.isSafeInteger)
  const links =
    ids.length === 0
      ? []
      : await db.sequelize.query<{ id: number; host: string; slug: string; title: string }>(
          'SELECT l.id, d.host, l.slug, l.title FROM link l JOIN domain d ON d.id = l.domain_id WHERE l.id IN (?)',
          { replacements: [ids], type: QueryTypes.SELECT },
        )
  const byId = new Map(links.map((link) => [String(link.id), link]))
  return rows.map((row) => {
    const link = byId.get(row.key)
    if (link) return { ...row, label: `${showHost(link.host)}/${link.slug}`, title: link.title }
    return { ...row, label: row.key === '0' ? '' : `link ${row.key}`, title: '' }
  })
}

/** Names marks by the placements they are of. */
async function withPlacements(db: Database, rows: Bare[]): Promise<TrafficRow[]> {
  const ids = rows.flatMap(({ key }) => placementOf(key) ?? [])
  const placements = await db.Placement.findAll({ where: { id: ids } })
  const byMark = new Map(placements.map((row) => [markOf(row.id), row]))
  return rows.map((row) => {
    const placement = byMark.get(row.key)
    const label = placement
      ? [placement.medium, placement.place].filter(Boolean).join(', ')
      : row.key && `mark ${row.key}`
    return { ...row, label, title: '' }
  })
}
