import { Op } from 'sequelize'
import type { SerialRun } from '../../../core/dns'
import type { Database } from '../../database/open'

const DAYS_MS = 7 * 86_400_000
const MAX_RUNS = 500

/** The serials name servers of a domain's zone were seen with of late, the newest run first. */
export async function readSerialRuns(db: Database, domainId: number, now: Date): Promise<SerialRun[]> {
  const rows = await db.Observation.findAll({
    where: {
      domainId,
      role: 'authority',
      type: 'SOA',
      status: 'answered',
      lastAt: { [Op.gt]: new Date(now.getTime() - DAYS_MS) },
    },
    order: [['id', 'DESC']],
    limit: MAX_RUNS,
  })
  return rows.flatMap((row) => {
    const serial = Number(row.data[0]?.split(' ')[2])
    return Number.isInteger(serial) ? [{ serial, firstAt: row.firstAt.getTime() }] : []
  })
}
