import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { withdrawProposal } from '../../../../usecases/changes/proposals'

export default route(operations.withdrawProposal, ({ db, actor, id }) => withdrawProposal(db, actor, id))
