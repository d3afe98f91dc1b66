import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { patchCase } from '../../../../usecases/docket/set-aside'

export default route(operations.changeCase, ({ db, actor, id, version, body }) =>
  patchCase(db, actor, id, version, body),
)
