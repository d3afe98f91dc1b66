import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { createMember } from '../../../usecases/people/members'

export default route(operations.createMember, ({ db, actor, body }) => createMember(db, actor, body))
