import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { readScan } from '../../../../usecases/conflicts/conflict-scan'

export default route(operations.readScan, ({ db, id }) => readScan(db, id))
