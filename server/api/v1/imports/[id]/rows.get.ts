import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { listIntakeRows } from '../../../../usecases/exchange/intake-view'

export default route(operations.listIntakeRows, ({ db, id, query }) => listIntakeRows(db, id, query))
