import { LEASE_SECONDS } from '../../../core/jobs'
import type { Database } from '../../database/open'
import type { Resume } from './job-table'

/** Columns of a job that is in work from its creation, by the process that creates it. */
export const bornLeased = (db: Pick<Database, 'sequelize'>, { state, problem, ended = false }: Resume) => ({
  leasedUntil: db.sequelize.literal(`DATE_ADD(UTC_TIMESTAMP(3), INTERVAL ${LEASE_SECONDS} SECOND)`) as unknown as Date,
  resumeState: state,
  resumeProblem: problem,
  resumeEnded: ended,
})
