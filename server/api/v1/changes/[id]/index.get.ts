import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { readProposal } from '../../../../usecases/changes/proposals'

export default route(operations.readProposal, ({ db, id }) => readProposal(db, id))
