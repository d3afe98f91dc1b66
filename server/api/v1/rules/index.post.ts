import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { createRule } from '../../../usecases/rules/rules'

export default route(operations.createRule, ({ db, actor, body }) => createRule(db, actor, body))
