import { QueryTypes } from 'sequelize'
import {
  BLOCK_SIZE,
  distanceTo,
  looseWords,
  minShared,
  countOffsets,
  type LooseWord,
  type SearchTerm,
} from '../../../../core/search'
import type { Database } from '../../../database/open'
import { readBlocks } from './candidates'

/** Links whose text is read: those that share most trigrams. */
const MAX_READ = 400
/** Words of a search that are considered. */
const MAX_WORDS = 6

/**
 * Links that contain what was probably meant where a search has slips in it, nearest first, then by visits. None where
 * every word is short or a number.
 */
export async function findSimilar(db: Database, terms: readonly SearchTerm[], limit: number): Promise<number[]> {
  const words = looseWords(terms).slice(0, MAX_WORDS)
  if (words.every(({ slips }) => slips === 0)) return []
  const ids = await readSharers(db, words)
  if (ids.length === 0) return []
  const rows = await db.sequelize.query<{ id: number; search_text: Buffer; visits_28: number }>(
    'SELECT id, search_text, visits_28 FROM link WHERE id IN (:ids)',
    { replacements: { ids }, type: QueryTypes.SELECT },
  )
  return rows
    .flatMap(({ id, search_text, visits_28 }) => {
      const distance = distanceTo(words, search_text.toString())
      return distance === undefined || distance === 0 ? [] : [{ id: Number(id), distance, visits: Number(visits_28) }]
    })
    .sort((a, b) => a.distance - b.distance || b.visits - a.visits || a.id - b.id)
    .slice(0, limit)
    .map(({ id }) => id)
}

/**
 * The links that share enough trigrams with every word, those with most first. Words that count only as they are tell
 * most: blocks of links without one of their trigrams are not looked into.
 */
async function readSharers(db: Database, words: readonly LooseWord[]): Promise<number[]> {
  const least = words.map(minShared)
  const strict = words.filter(({ slips }) => slips === 0)
  const loose = words.filter(({ slips }) => slips > 0)
  const grams = (of: readonly LooseWord[]) => new Set(of.flatMap((word) => [...word.grams]))
  const blocks = byBlock(await readBlocks(db, grams(strict)))
  const among =
    strict.length > 0 ? [...blocks].flatMap(([block, known]) => (hasAll(known, strict) ? [block] : [])) : undefined
  for (const [block, known] of byBlock(await readBlocks(db, grams(loose), among)))
    blocks.set(block, new Map([...(blocks.get(block) ?? []), ...known]))
  const byScore: number[][] = []
  for (const [block, known] of blocks) {
    if (!hasAll(known, strict)) continue
    const counts = words.map((word) => countShared(word, known))
    for (let offset = 0; offset < BLOCK_SIZE; offset++) {
      let score = 0
      for (let at = 0; at < words.length && score >= 0; at++) {
        const shared = counts[at]![offset]!
        score = shared < least[at]! ? -1 : score + shared
      }
      if (score > 0) (byScore[score] ??= []).push(block * BLOCK_SIZE + offset)
    }
  }
  return byScore.reverse().flat().slice(0, MAX_READ)
}

type Blocks = Map<number, Map<string, Uint8Array>>

function byBlock(rows: readonly { gram: string; block: number; links: Uint8Array }[]): Blocks {
  const blocks: Blocks = new Map()
  for (const { gram, block, links } of rows) {
    const grams = blocks.get(block) ?? new Map<string, Uint8Array>()
    blocks.set(block, grams.set(gram, links))
  }
  return blocks
}

/** Whether a block has links for every trigram of these words. */
const hasAll = (known: ReadonlyMap<string, Uint8Array>, words: readonly LooseWord[]): boolean =>
  words.every(({ grams }) => [...grams].every((gram) => known.has(gram)))

/** For each link of a block, how many of a word's trigrams it shares. */
function countShared({ grams }: LooseWord, stored: ReadonlyMap<string, Uint8Array>): Uint8Array {
  const counts = new Uint8Array(BLOCK_SIZE)
  for (const gram of grams) {
    const links = stored.get(gram)
    if (links) countOffsets(links, counts)
  }
  return counts
}
