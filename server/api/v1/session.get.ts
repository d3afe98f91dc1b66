import { operations } from '../../contract/operations'
import { route } from '../../http/route'
import { tellSession } from '../../http/session'

export default route(operations.readSession, ({ db, member, actor }) => tellSession(db, member, actor.role))
