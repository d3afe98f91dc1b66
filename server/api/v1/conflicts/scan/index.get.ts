import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { lastScan } from '../../../../usecases/conflicts/conflict-scan'

export default route(operations.lastScan, ({ db }) => lastScan(db))
