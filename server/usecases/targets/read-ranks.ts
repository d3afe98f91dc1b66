import type { Transaction } from 'sequelize'
import { TARGET_RANKS, type Confidence } from '../../../core/targets'
import type { Database } from '../../database/open'
import { destinationHash } from '../links/link-state'

/** How destinations stand that were asked already, by their hash. */
export async function readRanks(
  db: Database,
  transaction: Transaction,
  destinations: readonly string[],
): Promise<Map<string, number>> {
  if (destinations.length === 0) return new Map()
  const targets = await db.Target.findAll({
    attributes: ['hash', 'confidence'],
    where: { hash: [...new Set(destinations.map(destinationHash))] },
    transaction,
  })
  return new Map(
    targets.flatMap(({ hash, confidence }) =>
      confidence ? [[hash, TARGET_RANKS[confidence as Confidence]] as const] : [],
    ),
  )
}
