import { operations } from '../../../../../contract/operations'
import { route } from '../../../../../http/route'
import { listDeliveries } from '../../../../../usecases/notices/webhooks'

export default route(operations.listDeliveries, ({ db, id, query }) => listDeliveries(db, id, query))
