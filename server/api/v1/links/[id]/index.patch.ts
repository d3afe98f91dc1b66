import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { changeLink } from '../../../../usecases/links/change-link'
import { withTarget } from '../../../../usecases/targets/target-view'

export default route(operations.changeLink, async ({ db, actor, id, version, body }) =>
  withTarget(db, await changeLink(db, actor, id, version, body)),
)
