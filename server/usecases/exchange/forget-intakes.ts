import { Op } from 'sequelize'
import type { Database } from '../../database/open'

/** Files are kept so long after they ended, or were left; what was made stays in the ledger. */
const KEPT_DAYS = 90
const LEFT_DAYS = 180

export const forgetIntakes = (db: Database): Promise<unknown> => {
  const ago = (days: number) => new Date(Date.now() - days * 86_400_000)
  return db.Intake.destroy({
    where: { [Op.or]: [{ endedAt: { [Op.lt]: ago(KEPT_DAYS) } }, { madeAt: { [Op.lt]: ago(LEFT_DAYS) } }] },
  })
}
