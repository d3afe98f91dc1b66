import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { readScan } from '../../../../usecases/conflict-scan'

export default route(operations.readScan, ({ db, id }) => readScan(db, id))
