import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { changeRule } from '../../../usecases/rules/rules'

export default route(operations.changeRule, ({ db, actor, id, version, body }) =>
  changeRule(db, actor, id, version, body),
)
