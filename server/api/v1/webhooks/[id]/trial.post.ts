import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { tryWebhook } from '../../../../usecases/notices/webhooks'

export default route(operations.tryWebhook, ({ db, id }) => tryWebhook(db, id))
