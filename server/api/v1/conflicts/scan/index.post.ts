import { operations } from '../../../../contract/operations'
import { route } from '../../../../http/route'
import { askForScan } from '../../../../usecases/conflicts/conflict-scan'

export default route(operations.askForScan, ({ db, actor }) => askForScan(db, actor))
