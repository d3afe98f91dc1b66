import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { decideIntakeRows } from '../../../../usecases/exchange/intake-view'

export default route(operations.decideIntakeRows, ({ db, id, body }) => decideIntakeRows(db, id, body))
