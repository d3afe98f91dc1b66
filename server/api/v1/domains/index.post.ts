import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { createDomain } from '../../../usecases/change-domain'

export default route(operations.createDomain, ({ db, actor, body }) => createDomain(db, actor, body))
