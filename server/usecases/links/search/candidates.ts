import { QueryTypes } from 'sequelize'
import { IdSet, trigrams, type SearchTerm } from '../../../../core/search'
import type { Database } from '../../../database/open'

/** Links not indexed yet that a search reads one by one; with more, reading all links is as fast. */
const MAX_BEHIND = 2000
/** Trigrams read for each text: its rarest exclude almost as many links as all of them. */
const MAX_GRAMS = 6
/** Trigrams of a long text that are considered. */
const MAX_WEIGHED = 60

/**
 * The links that can contain what is searched, by the index; the text of each remains to be read. Undefined where the
 * index tells nothing: for a search of fewer than three characters, or while it is far behind.
 */
export async function findCandidates(
  db: Database,
  alternatives: readonly (readonly SearchTerm[])[],
): Promise<IdSet | undefined> {
  // For each alternative its terms, for each term its texts, any of which is enough.
  const wanted = alternatives.map((terms) =>
    terms
      .map(({ text, exact }) => [...new Set([text, exact ?? text])].map((one) => [...trigrams(one)]))
      .filter((texts) => texts.every((grams) => grams.length > 0)),
  )
  if (wanted.some((terms) => terms.length === 0)) return undefined
  const behind = await readBehind(db)
  if (behind.length > MAX_BEHIND) return undefined
  const texts = wanted.flat(2)
  const weights = await readWeights(db, new Set(texts.flatMap((grams) => grams.slice(0, MAX_WEIGHED))))
  const chosen = new Map(texts.map((grams) => [grams, rarest(grams, weights)]))
  const sets = await readSets(db, new Set([...chosen.values()].flat()))

  const found = IdSet.of(behind)
  for (const terms of wanted) {
    let all: IdSet | undefined
    for (const options of terms) {
      const any = new IdSet()
      for (const grams of options) any.addAll(inAll(chosen.get(grams)!, sets))
      if (all) all.keepOnly(any)
      else all = any
    }
    if (all) found.addAll(all)
  }
  return found
}

/** The rarest of a text's trigrams; none where one of them is in no link. */
function rarest(grams: readonly string[], weights: ReadonlyMap<string, number>): string[] {
  const weighed = grams.slice(0, MAX_WEIGHED)
  if (weighed.some((gram) => !weights.has(gram))) return []
  return weighed.sort((a, b) => weights.get(a)! - weights.get(b)!).slice(0, MAX_GRAMS)
}

/** What is in the sets of all these trigrams. */
function inAll(grams: readonly string[], sets: ReadonlyMap<string, IdSet>): IdSet {
  const found = new IdSet()
  const [first, ...others] = grams
  if (first === undefined) return found
  found.addAll(sets.get(first)!)
  for (const gram of others) found.keepOnly(sets.get(gram)!)
  return found
}

/** Links whose searched text changed since it was indexed, up to one more than are looked at. */
async function readBehind(db: Database): Promise<number[]> {
  const rows = await db.sequelize.query<{ id: number }>('SELECT id FROM link WHERE index_behind = 1 LIMIT :limit', {
    replacements: { limit: MAX_BEHIND + 1 },
    type: QueryTypes.SELECT,
  })
  return rows.map(({ id }) => Number(id))
}

/** How much is stored for each trigram, in bytes; those of no link are left out. */
async function readWeights(db: Database, grams: ReadonlySet<string>): Promise<Map<string, number>> {
  const rows = await db.sequelize.query<{ gram: string; bytes: number }>(
    'SELECT gram, SUM(LENGTH(links)) AS bytes FROM search_gram WHERE gram IN (:grams) GROUP BY gram',
    { replacements: { grams: [...grams] }, type: QueryTypes.SELECT },
  )
  return new Map(rows.map(({ gram, bytes }) => [gram, Number(bytes)]))
}

/** The links of each of these trigrams. */
async function readSets(db: Database, grams: ReadonlySet<string>): Promise<Map<string, IdSet>> {
  const sets = new Map<string, IdSet>()
  for (const { gram, block, links } of await readBlocks(db, grams)) {
    let set = sets.get(gram)
    if (!set) sets.set(gram, (set = new IdSet()))
    set.addStored(block, links)
  }
  return sets
}

/** The stored blocks of trigrams; all, or some by their numbers. */
export async function readBlocks(
  db: Database,
  grams: ReadonlySet<string>,
  blocks?: readonly number[],
): Promise<{ gram: string; block: number; links: Buffer }[]> {
  if (grams.size === 0 || blocks?.length === 0) return []
  return db.sequelize.query(
    `SELECT gram, block, links FROM search_gram WHERE gram IN (:grams) ${blocks ? 'AND block IN (:blocks)' : ''}`,
    { replacements: { grams: [...grams], blocks }, type: QueryTypes.SELECT },
  )
}
