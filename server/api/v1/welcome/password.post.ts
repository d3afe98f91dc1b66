import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { startSession } from '../../../http/session'
import { chooseByAddress } from '../../../usecases/people/one-time'

export default route(operations.choosePassword, async ({ event, db, body, caller }) =>
  startSession(db, event, await chooseByAddress(db, body, caller)),
)
