import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { createDomain } from '../../../usecases/domains/change-domain'

export default route(operations.createDomain, ({ db, actor, body }) => createDomain(db, actor, body))
