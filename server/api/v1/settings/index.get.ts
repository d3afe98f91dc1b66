import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { readSettings } from '../../../usecases/targets/check-settings'

export default route(operations.readSettings, ({ db }) => readSettings(db))
