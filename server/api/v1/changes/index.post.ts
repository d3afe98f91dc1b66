import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { makeProposal } from '../../../usecases/changes/proposals'

export default route(operations.makeProposal, ({ db, actor, body }) => makeProposal(db, actor, body))
