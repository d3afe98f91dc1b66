import { operations } from '../../../contract/operations'
import { useNames } from '../../../http/context'
import { route } from '../../../http/route'
import { previewDestination } from '../../../usecases/targets/preview-destination'

export default route(operations.previewCheck, ({ db, actor, body }) =>
  previewDestination(db, useNames(), actor, body.destination),
)
