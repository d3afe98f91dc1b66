import { operations } from '../../contract/operations'
import { route } from '../../http/route'
import { stopSession } from '../../http/session'

export default route(operations.signOut, ({ event, db }) => stopSession(db, event))
