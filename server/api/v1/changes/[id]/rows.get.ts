import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { listProposalRows } from '../../../../usecases/changes/proposal-view'

export default route(operations.listProposalRows, ({ db, id, query }) => listProposalRows(db, id, query))
