import { QueryTypes } from 'sequelize'
import type { MissList, MissListQuery } from '../../../core/schemas'
import type { MissModel } from '../../database/models/miss'
import type { Database } from '../../database/open'
import { fieldProblem } from '../problem'
import { toMissViews } from './miss-view'
import { organisationToday } from './organisation-day'

const STATES = {
  open: 'm.noise IS NULL AND NOT m.answered AND m.visitors_28 > 0',
  answered: 'm.noise IS NULL AND m.answered',
  noise: 'm.noise IS NOT NULL',
} as const
const SORTS = {
  visitors: { column: 'm.visitors_28', order: 'DESC' },
  last: { column: 'm.last_at', order: 'DESC' },
  path: { column: 'm.path', order: 'ASC' },
} as const

/** One page of misses of a state, with how many there are of each and what was not stored one by one. */
export async function listMisses(db: Database, query: MissListQuery): Promise<MissList> {
  const filters = [
    ...(query.domain === undefined ? [] : ['m.domain_id = :domain']),
    ...(query.q?.trim() ? ['INSTR(m.path, :q) > 0'] : []),
  ]
  const { column, order } = SORTS[query.sort]
  const cursor = query.cursor === undefined ? undefined : readCursor(query.cursor, query.sort)
  const beyond = order === 'DESC' ? '<' : '>'
  const where = [
    STATES[query.state],
    ...filters,
    ...(cursor ? [`(${column} ${beyond} :value OR (${column} = :value AND m.id ${beyond} :id))`] : []),
  ].join(' AND ')
  const replacements = {
    domain: query.domain,
    q: query.q?.trim(),
    limit: query.limit + 1,
    value: cursor && (query.sort === 'last' ? new Date(cursor[0]) : cursor[0]),
    id: cursor?.[1],
  }
  const counting = (state: keyof typeof STATES) =>
    `(SELECT COUNT(*) FROM miss m WHERE ${[STATES[state], ...filters].join(' AND ')}) AS ${state}_count`
  const [rows, [counts], [cut], today] = await Promise.all([
    db.sequelize.query(
      `SELECT m.* FROM miss m WHERE ${where} ORDER BY ${column} ${order}, m.id ${order} LIMIT :limit`,
      { replacements, model: db.Miss, mapToModel: true, type: QueryTypes.SELECT },
    ),
    db.sequelize.query<Record<`${keyof typeof STATES}_count`, number>>(
      `SELECT ${counting('open')}, ${counting('answered')}, ${counting('noise')}`,
      { replacements, type: QueryTypes.SELECT },
    ),
    db.sequelize.query<{ cut: string | null }>(
      `SELECT SUM(requests) AS cut FROM miss_cut WHERE hour > DATE_SUB(UTC_TIMESTAMP(3), INTERVAL 24 HOUR)
       ${query.domain === undefined ? '' : 'AND domain_id = :domain'}`,
      { replacements, type: QueryTypes.SELECT },
    ),
    organisationToday(db),
  ])
  const page = rows.slice(0, query.limit)
  const last = page.at(-1)
  return {
    items: await toMissViews(db, page, today),
    next:
      rows.length > query.limit && last
        ? Buffer.from(JSON.stringify([query.sort, valueOf(last, query.sort), last.id])).toString('base64url')
        : null,
    counts: {
      open: Number(counts?.open_count ?? 0),
      answered: Number(counts?.answered_count ?? 0),
      noise: Number(counts?.noise_count ?? 0),
    },
    cut: Number(cut?.cut ?? 0),
  }
}

const valueOf = (miss: MissModel, sort: MissListQuery['sort']) =>
  sort === 'visitors' ? miss.visitors28 : sort === 'last' ? miss.lastAt.toISOString() : miss.path

/** Where a page ended that was sorted by `sort`: by another order it would mean another place. */
function readCursor(cursor: string, sort: MissListQuery['sort']): [value: string | number, id: number] {
  let parsed: unknown
  try {
    parsed = JSON.parse(Buffer.from(cursor, 'base64url').toString())
  } catch {
    parsed = null
  }
  const [of, value, id] = Array.isArray(parsed) ? (parsed as unknown[]) : []
  const fits =
    sort === 'visitors'
      ? Number.isSafeInteger(value)
      : typeof value === 'string' && (sort !== 'last' || !Number.isNaN(Date.parse(value)))
  if (of !== sort || !Number.isSafeInteger(id) || !fits)
    throw fieldProblem('cursor', 'cursor: use the “next” of the page before, unchanged and in the same order.', 400)
  return [value as string | number, id as number]
}
