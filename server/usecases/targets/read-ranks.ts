import type { Transaction } from 'sequelize'
import { TARGET_RANKS, type Confidence } from '../../../core/targets'
import type { Database } from '../../database/open'

/** The ranks of destinations that were checked already, by their hash. */
export async function readRanks(
  db: Database,
  transaction: Transaction,
  hashes: readonly string[],
): Promise<Map<string, number>> {
  if (hashes.length === 0) return new Map()
  const targets = await db.Target.findAll({
    attributes: ['hash', 'confidence'],
    where: { hash: [...new Set(hashes)] },
    transaction,
  })
  return new Map(
    targets.flatMap(({ hash, confidence }) =>
      confidence ? [[hash, TARGET_RANKS[confidence as Confidence]] as const] : [],
    ),
  )
}
