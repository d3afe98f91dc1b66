import { operations } from '../../contract/operations'
import { route } from '../../http/route'
import { startSession, toSessionView } from '../../http/session'
import { setUp } from '../../usecases/people/setup'

export default route(operations.setUp, async ({ event, db, body }) => {
  const member = await setUp(db, body)
  await startSession(event, member)
  return toSessionView(db, member)
})
