import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { changeLink } from '../../../../usecases/links/change-link'

export default route(operations.changeLink, ({ db, actor, id, version, body }) =>
  changeLink(db, actor, id, version, body),
)
