import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { revokeToken } from '../../../usecases/people/tokens'

export default route(operations.revokeToken, ({ db, actor, id }) => revokeToken(db, actor, id))
