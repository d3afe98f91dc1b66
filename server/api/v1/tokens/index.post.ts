import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { createToken } from '../../../usecases/people/tokens'

export default route(operations.createToken, ({ db, actor, body }) => createToken(db, actor, body))
