import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { removeRule } from '../../../usecases/rules/rules'

export default route(operations.removeRule, ({ db, actor, id, version }) => removeRule(db, actor, id, version))
