import { operations } from '../../../contract/operations'
import { route } from '../../../http/route'
import { reorderRules } from '../../../usecases/rules/rules'

export default route(operations.reorderRules, async ({ db, actor, body }) => ({
  items: await reorderRules(db, actor, body),
}))
