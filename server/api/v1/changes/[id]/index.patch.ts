import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { changeProposal } from '../../../../usecases/changes/proposals'

export default route(operations.changeProposal, ({ db, id, version, body }) => changeProposal(db, id, version, body))
