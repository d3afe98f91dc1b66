import { operations } from '../../contract/operations'
import { route } from '../../http/route'
import { toSessionView } from '../../http/session'

export default route(operations.readSession, ({ db, member, actor }) => toSessionView(db, member, actor.role))
