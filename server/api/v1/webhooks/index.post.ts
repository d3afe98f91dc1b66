import { operations } from '../../../contract/operations'
import { useNames } from '../../../http/context'
import { route } from '../../../http/route'
import { addWebhook } from '../../../usecases/notices/webhooks'

export default route(operations.addWebhook, ({ db, actor, body }) => addWebhook(db, useNames(), actor, body))
