import type { MissNoise } from '../../database/models/miss'
import type { UndoSubject } from '../ledger/put-back'
import { Problem } from '../problem'
import { findMiss } from './find-miss'

interface NoiseState {
  noise: MissNoise | null
  shape: string
}

/** Takes a decision about noise back, of one miss or of its whole shape. */
export const undoMiss: UndoSubject = async (db, change, entry, request) => {
  const was = entry.beforeState as unknown as NoiseState | null
  const became = entry.afterState as unknown as NoiseState | null
  if (!was || !became) throw new Problem(409, 'Cannot be undone', 'This entry holds nothing that could be put back.')
  const miss = await findMiss(db, entry.subjectId, change)
  if (miss.noise !== became.noise && !request.overwrite)
    throw new Problem(409, 'Would overwrite a later change', 'Somebody decided otherwise about it since.', [], {
      fields: ['noise'],
      later: [],
    })
  const shape = was.noise === 'shape' || became.noise === 'shape'
  await db.Miss.update(
    { noise: was.noise, noiseWhy: '', due: true },
    {
      where: shape ? { domainId: miss.domainId, shape: miss.shape } : { id: miss.id },
      transaction: change.transaction,
    },
  )
  return change.record({
    action: 'undo',
    subject: { kind: 'miss', id: miss.id, label: entry.subjectLabel },
    reason: request.reason,
    before: { noise: miss.noise, shape: miss.shape },
    after: { noise: was.noise, shape: miss.shape },
    undoesId: entry.id,
  })
}
