import { getRequestIP } from 'h3'
import { operations } from '../../contract/operations'
import { route } from '../../http/route'
import { startSession, toSessionView } from '../../http/session'
import { signIn } from '../../usecases/people/sign-in'

export default route(operations.signIn, async ({ event, db, body }) => {
  const member = await signIn(db, body.email, body.password, getRequestIP(event) ?? '')
  await startSession(event, member)
  return toSessionView(db, member)
})
