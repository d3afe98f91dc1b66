import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { changeMember } from '../../../usecases/people/members'

export default route(operations.changeMember, ({ db, actor, id, version, body }) =>
  changeMember(db, actor, id, version, body),
)
