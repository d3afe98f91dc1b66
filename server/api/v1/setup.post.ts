import { operations } from '../../contract/operations'
import { route } from '../../http/route'
import { startSession } from '../../http/session'
import { setUp } from '../../usecases/people/setup'

export default route(operations.setUp, async ({ event, db, body }) => startSession(db, event, await setUp(db, body)))
