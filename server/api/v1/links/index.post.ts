import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { createLink } from '../../../usecases/links/create-link'

export default route(operations.createLink, ({ db, actor, body }) => createLink(db, actor, body))
