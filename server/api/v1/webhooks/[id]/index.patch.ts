import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { changeWebhook } from '../../../../usecases/notices/webhooks'

export default route(operations.changeWebhook, ({ db, actor, id, version, body }) =>
  changeWebhook(db, actor, id, version, body),
)
