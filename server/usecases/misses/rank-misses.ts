import { QueryTypes } from 'sequelize'
import { showHost } from '../../../core/address'
import { noiseOf, rank } from '../../../core/misses'
import type { MissCandidate, MissRanking } from '../../../core/schemas'
import type { MissModel, MissNoise } from '../../database/models/miss'
import type { Database } from '../../database/open'
import { answeredBy } from './answered'
import type { MissRegister } from './miss-register'

const DAYS = 28
const A_ROUND = 400
/** Candidates kept of each: what is offered to decide on. */
const MAX_KEPT = 5
const MIN_KEPT = 0.02

interface Figures {
  requests: number
  visitors: number
  robots: number
  scattered: number
}

/** The figures of the last 28 days of some misses, by miss. */
async function figuresOf(db: Database, ids: readonly number[], today: string): Promise<Map<number, Figures>> {
  const rows = await db.sequelize.query<{ miss_id: number } & Record<keyof Figures, string | number>>(
    `SELECT d.miss_id, SUM(requests) AS requests, SUM(visitors) AS visitors, SUM(robots) AS robots,
       (SELECT COUNT(*) FROM miss_visitor v WHERE v.miss_id = d.miss_id AND v.scattered) AS scattered
     FROM miss_day d WHERE d.miss_id IN (:ids) AND d.day > DATE_SUB(:today, INTERVAL ${DAYS} DAY) GROUP BY d.miss_id`,
    { replacements: { ids, today }, type: QueryTypes.SELECT },
  )
  return new Map(
    rows.map((row) => [
      Number(row.miss_id),
      {
        requests: Number(row.requests),
        visitors: Number(row.visitors),
        robots: Number(row.robots),
        scattered: Number(row.scattered),
      },
    ]),
  )
}

/** Titles and destinations of links, for those who decide. */
async function factsOf(
  db: Database,
  ids: readonly number[],
): Promise<Map<number, { title: string; destination: string }>> {
  if (ids.length === 0) return new Map()
  const rows = await db.Link.findAll({ attributes: ['id', 'title', 'destination'], where: { id: [...new Set(ids)] } })
  return new Map(rows.map(({ id, title, destination }) => [id, { title, destination }]))
}

/** Ranks what a path may mean, with what those who decide must know of each link. */
export async function rankingOf(
  db: Database,
  register: MissRegister,
  domainId: number,
  path: string,
  followed: Record<string, number> = {},
): Promise<MissRanking> {
  const ranked = rank(register.index, {
    domainId,
    path,
    followed: new Map(Object.entries(followed).map(([link, visitors]) => [Number(link), visitors])),
    most: MAX_KEPT,
  })
  const wanted = ranked.candidates.filter(({ probability }, place) => place === 0 || probability >= MIN_KEPT)
  const facts = await factsOf(
    db,
    wanted.map(({ link }) => link),
  )
  return {
    none: ranked.none,
    candidates: wanted.flatMap(({ shown: _shown, ...one }): MissCandidate[] => {
      const known = facts.get(one.link)
      const part = register.table.domains.get(one.domainId)
      if (!known || !part) return []
      const slug = part.links.get(one.canonical)?.extra?.slug ?? one.canonical
      return [{ ...one, address: `${showHost(part.domain.host)}/${slug}`, ...known }]
    }),
  }
}

/**
 * Brings misses about which something changed up to date: their figures, whether they are noise, whether they are
 * answered by now, and what they may mean. Gives how many were due.
 */
export async function rankDue(db: Database, register: MissRegister, today: string): Promise<number> {
  const due = await db.Miss.findAll({ where: { due: true }, limit: A_ROUND, order: [['id', 'ASC']] })
  if (due.length === 0) return 0
  const figures = await figuresOf(
    db,
    due.map(({ id }) => id),
    today,
  )
  const shapes = await noisyShapes(db, due)
  for (const miss of due) await refresh(db, register, miss, figures.get(miss.id), shapes)
  return due.length
}

/** Shapes somebody took for noise, by domain and shape. */
async function noisyShapes(db: Database, misses: readonly MissModel[]): Promise<Set<string>> {
  const rows = await db.Miss.findAll({
    attributes: ['domainId', 'shape'],
    where: { noise: 'shape', shape: [...new Set(misses.map(({ shape }) => shape))] },
    group: ['domainId', 'shape'],
  })
  return new Set(rows.map(({ domainId, shape }) => `${domainId}/${shape}`))
}

async function refresh(
  db: Database,
  register: MissRegister,
  miss: MissModel,
  figures: Figures = { requests: 0, visitors: 0, robots: 0, scattered: 0 },
  shapes: ReadonlySet<string>,
): Promise<void> {
  const [noise, noiseWhy] = noiseFor(miss, figures, shapes)
  const ranking = noise === null ? await rankingOf(db, register, miss.domainId, miss.path, miss.followed) : miss.ranking
  // What somebody decided meanwhile stands; such a miss stays due and is looked at again.
  await db.Miss.update(
    {
      requests28: figures.requests,
      visitors28: figures.visitors,
      noise,
      noiseWhy,
      ranking,
      likely: Math.round((ranking?.candidates[0]?.probability ?? 0) * 1e5) / 1e5,
      due: false,
      ...answerOf(register, miss),
    },
    { where: { id: miss.id, noise: miss.noise, answered: miss.answered } },
  )
}

/** Whether it is answered by now; one that somebody marked as gone stays settled while its slug says so. */
export function answerOf(register: MissRegister, miss: MissModel): Partial<MissModel> {
  const by = answeredBy(register, miss.domainId, miss.path, Date.now())
  if (by) return miss.answered ? { answeredBy: by } : { answered: true, answeredAt: new Date(), answeredBy: by }
  if (!miss.answered) return {}
  const marked = miss.answeredBy?.by === 'gone' && register.table.domains.get(miss.domainId)?.links.has(miss.path)
  return marked ? {} : { answered: false, answeredAt: null, answeredBy: null }
}

function noiseFor(miss: MissModel, figures: Figures, shapes: ReadonlySet<string>): [MissNoise | null, string] {
  if (miss.noise === 'decided' || miss.noise === 'shape') return [miss.noise, miss.noiseWhy]
  if (shapes.has(`${miss.domainId}/${miss.shape}`)) return ['shape', 'somebody took this shape for noise']
  const why = noiseOf(miss.path)
  if (why) return ['sign', why]
  if (figures.visitors > 0) return [null, '']
  if (figures.scattered > 0) return ['scatter', 'asked for by clients that try many unrelated paths']
  if (figures.robots > 0) return ['robots', 'asked for by declared robots alone']
  return [null, '']
}

const PAGE = 1000

/**
 * After a change of the register: whether each miss somebody cares about is answered by now, and that its meaning
 * may be
 * another.
 */
export async function lookAgain(db: Database, register: MissRegister, rankAgain: boolean): Promise<void> {
  for (let after = 0; ;) {
    const rows = await db.Miss.findAll({
      attributes: ['id', 'domainId', 'path', 'answered', 'answeredAt', 'answeredBy'],
      where: db.sequelize.literal(`id > ${after} AND noise IS NULL AND (visitors_28 > 0 OR answered)`),
      order: [['id', 'ASC']],
      limit: PAGE,
    })
    if (rows.length === 0) break
    after = rows.at(-1)!.id
    for (const miss of rows) {
      const change = answerOf(register, miss)
      if (change.answered !== undefined) await miss.update({ ...change, due: true })
    }
    if (rankAgain)
      await db.Miss.update({ due: true }, { where: { id: rows.filter((row) => !row.answered).map(({ id }) => id) } })
  }
}

/** The figures of 28 days move on with the days though nobody asks: those of yesterday and before are taken anew. */
export const ageFigures = (db: Database, today: string) =>
  db.sequelize.query(
    `UPDATE miss SET due = TRUE WHERE visitors_28 > 0 AND id IN
      (SELECT miss_id FROM miss_day WHERE day = DATE_SUB(:today, INTERVAL ${DAYS} DAY))`,
    { replacements: { today } },
  )
