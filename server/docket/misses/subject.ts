import type { DocketCaseModel } from '../../database/models/docket-case'
import type { MissModel } from '../../database/models/miss'
import type { Database } from '../../database/open'
import { familyKey, missKey } from './keys'

/** The part of a case's subject behind the host; both stand in it as people read them. */
const pathOf = (row: DocketCaseModel) => row.subject.slice(row.subject.indexOf('/') + 1)

/** The miss a case is about; `undefined` for a family's. */
export async function missOf(db: Database, row: DocketCaseModel): Promise<MissModel | undefined> {
  if (row.domainId === null || row.kind === 'missed-family') return undefined
  const domainId = row.domainId
  const miss = await db.Miss.findOne({ where: { domainId, path: pathOf(row) } })
  if (miss && missKey(miss) === row.caseKey) return miss
  // A path with hidden characters stands otherwise in the subject; its key tells it all the same.
  const others = await db.Miss.findAll({
    where: { domainId, answered: false },
    order: [['visitors28', 'DESC']],
    limit: 5000,
  })
  return others.find((one) => missKey(one) === row.caseKey)
}

/** The open misses of a family's case. */
export async function membersOf(db: Database, row: DocketCaseModel): Promise<MissModel[]> {
  if (row.domainId === null || row.kind !== 'missed-family') return []
  const shape = pathOf(row)
  if (familyKey({ domainId: row.domainId, shape }) !== row.caseKey) return []
  return db.Miss.findAll({
    where: { domainId: row.domainId, shape, answered: false, noise: null },
    order: [['visitors28', 'DESC']],
    limit: 500,
  })
}
