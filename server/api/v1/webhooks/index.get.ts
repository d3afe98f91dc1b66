import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { listWebhooks } from '../../../usecases/notices/webhooks'

export default route(operations.listWebhooks, ({ db }) => listWebhooks(db))
