import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { changeLink } from '../../../../usecases/change-link'

export default route(operations.changeLink, ({ db, actor, id, version, body }) =>
  changeLink(db, actor, id, version, body),
)
