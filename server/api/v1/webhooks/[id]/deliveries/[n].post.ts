import { operations } from '../../../../../contract/operations'
import { route } from '../../../../../http/route'
import { redeliver } from '../../../../../usecases/notices/webhooks'

export default route(operations.redeliver, ({ db, id, n }) => redeliver(db, id, n))
