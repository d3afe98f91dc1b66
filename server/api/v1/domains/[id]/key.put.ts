import { operations } from '../../../../contract/operations'
import { useNames } from '../../../../http/context'
import { route } from '../../../../http/route'
import { setUpdateKey } from '../../../../usecases/domains/update-key'

export default route(operations.setUpdateKey, ({ db, actor, id, body }) =>
  setUpdateKey(db, useNames(), actor, id, body),
)
