import { operations } from '../../../../../contract/operations'
import { useNames } from '../../../../../http/context'
import { route } from '../../../../../http/route'
import { applyRemedy } from '../../../../../usecases/docket/apply-remedy'

export default route(operations.applyRemedy, ({ db, actor, id, version, word, body }) =>
  applyRemedy(db, useNames(), actor, id, version, word, body),
)
