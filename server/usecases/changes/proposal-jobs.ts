import { PROPOSAL_JOB, type Expected } from '../../../core/jobs'
import type { Database } from '../../database/open'
import type { ProposalModel } from '../../database/models/proposal'
import { jobTable } from '../jobs/job-table'

/** The proposals as long jobs. */
export const proposalJobs = (db: Database) => jobTable(db, PROPOSAL_JOB)

/** A proposal as it was read: if another transition comes first, nothing is done. */
export const expectedOf = ({ id, state, version }: ProposalModel): Expected<ProposalModel['state']> => ({
  id,
  state,
  version: version!,
})
