import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { changePassword } from '../../../usecases/people/choose-password'

export default route(operations.changePassword, ({ db, actor, member, session, caller, body }) =>
  changePassword(db, actor, { member, session }, caller, body),
)
