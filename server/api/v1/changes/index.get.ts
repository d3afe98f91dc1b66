import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { listProposals } from '../../../usecases/changes/proposals'

export default route(operations.listProposals, ({ db }) => listProposals(db))
