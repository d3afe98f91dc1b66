import { operations } from '../../contract/operations'
import { route } from '../../http/route'
import { startSession } from '../../http/session'
import { signIn } from '../../usecases/people/sign-in'

export default route(operations.signIn, async ({ event, db, body, caller }) =>
  startSession(db, event, await signIn(db, body.email, body.password, caller)),
)
