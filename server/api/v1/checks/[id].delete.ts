import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { cancelRun } from '../../../usecases/targets/check-runs'

export default route(operations.cancelChecks, ({ db, id }) => cancelRun(db, id))
