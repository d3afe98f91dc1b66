import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { patchProposalRows } from '../../../../usecases/changes/proposal-view'

export default route(operations.patchProposalRows, ({ db, id, body }) => patchProposalRows(db, id, body))
