import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { temporaryFirst } from '../../../../usecases/changes/temporary-first'

export default route(operations.temporaryFirst, ({ db, actor, id, version, body }) =>
  temporaryFirst(db, actor, id, version, body),
)
