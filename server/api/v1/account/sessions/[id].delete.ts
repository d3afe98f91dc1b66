import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { endOwnSession } from '../../../../usecases/people/sessions'

export default route(operations.endSession, ({ db, member, caller, id }) => endOwnSession(db, member.id, id, caller))
