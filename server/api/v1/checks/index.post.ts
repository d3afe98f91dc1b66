import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { askForChecks } from '../../../usecases/targets/check-runs'

export default route(operations.askForChecks, ({ db, actor, body }) => askForChecks(db, actor, body))
