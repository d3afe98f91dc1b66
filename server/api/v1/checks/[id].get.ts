import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { readRun } from '../../../usecases/targets/check-runs'

export default route(operations.readChecks, ({ db, id }) => readRun(db, id))
