import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { lastScan } from '../../../../usecases/conflict-scan'

export default route(operations.lastScan, ({ db }) => lastScan(db))
