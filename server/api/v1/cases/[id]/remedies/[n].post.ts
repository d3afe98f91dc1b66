import { operations } from '../../../../../contract/operations'
import { useNames } from '../../../../../http/context'
import { route } from '../../../../../http/route'
import { applyRemedy } from '../../../../../usecases/docket/cases'

export default route(operations.applyRemedy, ({ db, actor, id, n, body }) =>
  applyRemedy(db, useNames(), actor, id, n, body),
)
