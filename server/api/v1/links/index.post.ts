import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { createLink } from '../../../usecases/links/create-link'
import { withTarget } from '../../../usecases/targets/target-view'

export default route(operations.createLink, async ({ db, actor, body }) =>
  withTarget(db, await createLink(db, actor, body)),
)
