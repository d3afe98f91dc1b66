import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { changeSettings } from '../../../usecases/targets/check-settings'

export default route(operations.changeSettings, ({ db, actor, version, body }) =>
  changeSettings(db, actor, version, body),
)
