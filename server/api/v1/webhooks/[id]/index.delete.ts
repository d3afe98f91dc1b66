import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { removeWebhook } from '../../../../usecases/notices/webhooks'

export default route(operations.removeWebhook, ({ db, actor, id }) => removeWebhook(db, actor, id))
