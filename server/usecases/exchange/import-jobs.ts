import { IMPORT_JOB, type Expected } from '../../../core/jobs'
import type { IntakeModel } from '../../database/models/intake'
import type { Database } from '../../database/open'
import { jobTable } from '../jobs/job-table'
import type { LeasedWork } from '../jobs/leased-work'

/** The files that are imported, as long jobs. */
export const importJobs = (db: Database) => jobTable(db, IMPORT_JOB)

/** Work on a file. */
export type ImportWork = LeasedWork<IntakeModel['state']>

/** A file as it was read: if another transition comes first, nothing is done. */
export const expectedOf = ({ id, state, version }: IntakeModel): Expected<IntakeModel['state']> => ({
  id,
  state,
  version: version!,
})
