import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { cancelScan } from '../../../../usecases/conflicts/conflict-scan'

export default route(operations.cancelScan, ({ db, id }) => cancelScan(db, id))
